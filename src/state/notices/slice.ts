/** A sentence for the user, with something to press if there is something to do about it. */
export interface Notice {
  id: string;
  message: string;
  kind: 'info' | 'error';
  action?: { label: string; run: () => void };
  /** It does not go away by itself. */
  stays?: true;
  /** It goes once this is settled. */
  until?: Promise<unknown>;
}

/** What is said to the user. */
export interface NoticesSlice {
  notices: readonly Notice[];
}

export const notices: NoticesSlice = { notices: [] };
