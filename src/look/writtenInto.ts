/** What a text is written into: keys are letters there, not commands. */
const TEXT = 'input:not([type=range], [type=checkbox], [type=radio]), textarea, select';

/** Whether keys and pasted text go into the text of this element. */
export function isWrittenInto(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || target.matches(TEXT));
}

/** What has keys of its own as long as it is open. */
const IN_FRONT = '[role=dialog], [role=menu], [role=listbox]:not([data-command-keys])';

/** Whether something lies in front of the page, and has the keys. */
export function isInFront(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest(IN_FRONT) !== null;
}
