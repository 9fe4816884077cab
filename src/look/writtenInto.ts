/** What a text is written into: keys are letters there, not commands. */
const TEXT = 'input:not([type=range], [type=checkbox], [type=radio]), textarea, select';

/** Whether keys and pasted text go into the text of this element. */
export function isWrittenInto(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || target.matches(TEXT));
}
