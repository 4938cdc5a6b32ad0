import { useEffect, useRef } from 'react';

const CAN_HAVE_FOCUS =
  'a[href], button:not(:disabled):not([tabindex="-1"]), input:not(:disabled):not([tabindex="-1"]), select, textarea, [tabindex="0"]';

/** What is worked with next: `data-next` marks it. */
const NEXT = '[data-next]:not(:disabled)';

/** Milliseconds that what comes next may take to appear, as after a change that the server has still to make. */
const PATIENCE = 8000;

/**
 * Keeps the focus where the work is: when what has it goes away or cannot be used any more, what comes next gets it: what is marked as
 * that near to its place, else what can have it there. Else the browser would lay it on the whole page, and the next Tab would begin
 * at the top. What is marked may appear later; it gets the focus if nobody has taken it elsewhere meanwhile.
 * @param root of what is watched; it gets the focus when nothing else is left
 * @param page on another one what comes first there gets it, unless it is in what stands around all pages
 */
export function useFocusKept(root: React.RefObject<HTMLElement | null>, page = ''): void {
  const arrive = useRef(() => {});
  const shown = useRef(page);
  useEffect(() => {
    if (shown.current !== page) arrive.current();
    shown.current = page;
  }, [page]);
  useEffect(() => {
    const element = root.current;
    if (!element) return;
    /** What had the focus last, and all around it, from within. */
    let around: HTMLElement[] = [];
    let isPressed = false;
    /** Where what comes next is waited for, since when, and what has the focus meanwhile. */
    let awaited: { place: HTMLElement; at: HTMLElement; back: HTMLElement | null; since: number } | null =
      null;
    const onPress = () => {
      isPressed = true;
      awaited = null;
    };
    // What goes away by a click goes after this, however quick it is.
    const onRelease = () => {
      isPressed = false;
    };
    const onFocus = ({ target }: FocusEvent) => {
      if (awaited && target !== awaited.at) awaited = null;
      around = [];
      for (let at = target as HTMLElement | null; at && at !== element; at = at.parentElement)
        around.push(at);
    };
    const onBlur = () => {
      // A click beside everything takes the focus away on purpose. What goes away is still there while it loses the focus.
      if (isPressed) around = [];
    };
    arrive.current = () => {
      const { activeElement } = document;
      if (activeElement && activeElement !== document.body && activeElement.isConnected) return;
      element.focus();
      awaited = { place: element, at: element, back: null, since: performance.now() };
      keep();
    };
    const keep = () => {
      const { activeElement } = document;
      if (awaited && activeElement === awaited.at && performance.now() - awaited.since < PATIENCE) {
        const { back } = awaited;
        const isBack = back?.isConnected && !back.matches(':disabled');
        const next = isBack ? back : awaited.place.querySelector<HTMLElement>(NEXT);
        if (next && next !== awaited.at) {
          awaited = null;
          next.focus();
        }
        return;
      }
      const [last, ...outer] = around;
      if (!last || (last.isConnected && !last.matches(':disabled'))) return;
      if (activeElement && activeElement !== document.body && activeElement !== last) return;
      const place =
        outer.find(
          (ancestor) =>
            ancestor.isConnected && element.contains(ancestor) && ancestor.querySelector(CAN_HAVE_FOCUS),
        ) ?? element;
      const next = place.querySelector<HTMLElement>(NEXT);
      const at = next ?? (place === element ? element : place.querySelector<HTMLElement>(CAN_HAVE_FOCUS)!);
      const back = last.isConnected ? last : null;
      at.focus();
      awaited = next ? null : { place, at, back, since: performance.now() };
    };
    const observer = new MutationObserver(keep);
    observer.observe(element, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ['disabled', 'data-next'],
    });
    document.addEventListener('mousedown', onPress, true);
    document.addEventListener('mouseup', onRelease, true);
    element.addEventListener('focusin', onFocus);
    element.addEventListener('focusout', onBlur);
    return () => {
      observer.disconnect();
      document.removeEventListener('mousedown', onPress, true);
      document.removeEventListener('mouseup', onRelease, true);
      element.removeEventListener('focusin', onFocus);
      element.removeEventListener('focusout', onBlur);
    };
  }, [root]);
}
