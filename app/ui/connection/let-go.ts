/**
 * Whoever leaves a page while its data arrive lets go of the answer half read. The router's reader then rejects a promise that nobody can
 * get hold of (react-router 7, `decode` in turbo-stream gives `done`, which is dropped): that is no error of the page.
 * @returns ends it
 */
export function letGoQuietly(): () => void {
  const onRejection = (event: PromiseRejectionEvent) => {
    const { reason } = event;
    if (reason instanceof DOMException && reason.name === 'AbortError') event.preventDefault();
  };
  addEventListener('unhandledrejection', onRejection);
  return () => removeEventListener('unhandledrejection', onRejection);
}
