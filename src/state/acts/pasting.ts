/** How long the browser is waited for to say what is on its clipboard, in ms. */
const CLIPBOARD = 250;

let waiting: { timer: ReturnType<typeof setTimeout>; paste: () => void } | undefined;

/**
 * Pastes what was copied here once the browser says that its clipboard holds nothing that belongs elsewhere: the page
 * hears of that right after the key.
 */
export function pasteUnlessElse(paste: () => void): void {
  if (waiting) clearTimeout(waiting.timer);
  waiting = { timer: setTimeout(() => pastedElse(false), CLIPBOARD), paste };
}

/** Called when the browser pastes. @param elsewhere what it pastes is a file or a text of its own */
export function pastedElse(elsewhere: boolean): void {
  if (!waiting) return;
  const { timer, paste } = waiting;
  clearTimeout(timer);
  waiting = undefined;
  if (!elsewhere) paste();
}
