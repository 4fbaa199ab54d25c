const FOCUSABLE = 'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex="0"]';

/**
 * Keeps the focus near where it was when what had it goes away: an act that removes its own button must not send the
 * keyboard back to the top of the page. It goes to the first control of the nearest part that is still there.
 * @returns what stops it
 */
export function keepFocus(root: HTMLElement): () => void {
  let last: HTMLElement | null = null;
  let above: HTMLElement[] = [];
  const onFocus = (event: FocusEvent): void => {
    last = event.target as HTMLElement;
    above = [];
    for (let e = last.parentElement; e; e = e.parentElement) above.push(e);
  };
  const watcher = new MutationObserver(() => {
    if (!last || last.isConnected || (document.activeElement && document.activeElement !== document.body)) return;
    const part = above.find((e) => e.isConnected);
    last = null;
    if (!part || !root.contains(part)) return;
    const next = part === root ? null : part.querySelector<HTMLElement>(FOCUSABLE);
    (next ?? root).focus({ preventScroll: true });
  });
  addEventListener('focusin', onFocus);
  watcher.observe(root, { childList: true, subtree: true });
  return () => {
    removeEventListener('focusin', onFocus);
    watcher.disconnect();
  };
}
