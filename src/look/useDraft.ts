import { useRef, useState, type ChangeEvent, type FocusEvent, type KeyboardEvent } from 'react';

type Field = HTMLInputElement | HTMLTextAreaElement;

export interface Drafted {
  /** What is written and not kept yet; undefined while nothing is. */
  draft: string | undefined;
  setDraft(text: string | undefined): void;
  /** What a text field takes over. */
  field: {
    value: string;
    onChange(event: ChangeEvent<Field>): void;
    onFocus(event: FocusEvent<Field>): void;
    onBlur(): void;
    onKeyDown(event: KeyboardEvent): void;
  };
}

/**
 * A text that is written before it counts: Enter or leaving the field keeps it, Escape leaves what was
 * there. While nothing is written, Enter and Escape belong to what the field is in.
 * @param keep told what was written, when it differs from `value`
 * @param leave called after Enter or Escape, whether anything was written or not
 * @param isWrong what is written cannot be kept: it stays to be mended, and only Escape leaves it
 */
export function useDraft(
  value: string,
  keep: (text: string) => void,
  leave?: (by: 'Enter' | 'Escape') => void,
  isWrong?: (text: string) => boolean,
): Drafted {
  const [draft, show] = useState<string>();
  // Leaving by a key moves the focus, and with it comes a blur before anything is drawn anew.
  const written = useRef<string>(undefined);
  const setDraft = (text: string | undefined) => {
    written.current = text;
    show(text);
  };
  const stays = () => written.current !== undefined && isWrong?.(written.current) === true;
  const end = (kept: boolean) => {
    const text = written.current;
    if (kept && stays()) return;
    setDraft(undefined);
    if (kept && text !== undefined && text !== value) keep(text);
  };
  return {
    draft,
    setDraft,
    field: {
      value: draft ?? value,
      onChange: (event) => setDraft(event.target.value),
      onFocus: (event) => event.target.select(),
      onBlur: () => end(true),
      onKeyDown(event) {
        const { key } = event;
        if (key !== 'Enter' && key !== 'Escape') return;
        if (written.current === undefined && !leave) return;
        event.preventDefault();
        event.stopPropagation();
        if (key === 'Enter' && stays()) return;
        end(key === 'Enter');
        leave?.(key);
      },
    },
  };
}
