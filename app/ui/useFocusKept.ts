import { useEffect } from 'react';

const CAN_HAVE_FOCUS =
  'a[href], button:not(:disabled):not([tabindex="-1"]), input:not(:disabled):not([tabindex="-1"]), select, textarea, [tabindex="0"]';

/**
 * Keeps the focus where the work is: when what has it goes away or cannot be used any more, what comes next near to its place gets it.
 * Else the browser would lay it on the whole page, and the next Tab would begin at the top.
 * @param root of what is watched; it gets the focus when nothing else is left
 */
export function useFocusKept(root: React.RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const element = root.current;
    if (!element) return;
    /** What had the focus last, and all around it, from within. */
    let around: Element[] = [];
    const onFocus = ({ target }: FocusEvent) => {
      around = [];
      for (let at = target as Element | null; at && at !== element; at = at.parentElement) around.push(at);
    };
    // A click beside everything takes the focus away on purpose.
    const onBlur = ({ target }: FocusEvent) => {
      const left = target as HTMLElement;
      if (left.isConnected && !left.matches(':disabled')) around = [];
    };
    /** What could not be used for a while, and what has the focus meanwhile. */
    let resting: { from: HTMLElement; at: HTMLElement } | null = null;
    const keep = () => {
      const { activeElement } = document;
      if (
        resting &&
        activeElement === resting.at &&
        resting.from.isConnected &&
        !resting.from.matches(':disabled')
      ) {
        resting.from.focus();
        resting = null;
        return;
      }
      const [last, ...outer] = around;
      if (!last || (last.isConnected && !last.matches(':disabled'))) return;
      if (activeElement && activeElement !== document.body && activeElement !== last) return;
      const place = outer.find(
        (ancestor) =>
          ancestor.isConnected && element.contains(ancestor) && ancestor.querySelector(CAN_HAVE_FOCUS),
      );
      const next = place?.querySelector<HTMLElement>(CAN_HAVE_FOCUS) ?? element;
      next.focus();
      resting = last.isConnected ? { from: last as HTMLElement, at: next } : null;
    };
    const observer = new MutationObserver(keep);
    observer.observe(element, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ['disabled'],
    });
    element.addEventListener('focusin', onFocus);
    element.addEventListener('focusout', onBlur);
    return () => {
      observer.disconnect();
      element.removeEventListener('focusin', onFocus);
      element.removeEventListener('focusout', onBlur);
    };
  }, [root]);
}
