export const STAGES = ['gather', 'shape', 'weave', 'balance', 'deliver'] as const;
export type Stage = (typeof STAGES)[number];

/** Which stage is on screen, and what lies over it. */
export interface DialogsSlice {
  stage: Stage;
  dialog?:
    'palette' | 'keys' | 'tablature' | 'take' | 'guides' | 'note map' | 'opened' | 'bin' | 'remove';
  /** The pattern that is to be removed, while it is asked. */
  removing?: string;
}

export const dialogs: DialogsSlice = { stage: 'shape' };
