import type { Meter } from '@/core/time';

export const STAGES = ['gather', 'shape', 'weave', 'balance', 'deliver'] as const;
export type Stage = (typeof STAGES)[number];

/** Which stage is on screen, and what lies over it. */
export interface DialogsSlice {
  stage: Stage;
  dialog?:
    | 'palette'
    | 'keys'
    | 'guide'
    | 'tablature'
    | 'take'
    | 'guides'
    | 'note map'
    | 'opened'
    | 'bin'
    | 'remove'
    | 'library'
    | 'meter'
    | 'form'
    | 'fill'
    | 'replace'
    | 'link'
    | 'longer'
    | 'history'
    | 'save points'
    | 'compare'
    | 'perform'
    | 'slice'
    | 'bounce'
    | 'numbers';
  /** The pattern that is to be removed, while it is asked. */
  removing?: string;
  /** The meter a pattern is to be counted in, while it is asked what becomes of its bars. */
  meterAsked?: Meter;
  /** What is asked about for the library: a pattern of the song, or a groove that is in it. */
  putting?: { pattern: string } | { groove: string };
}

export const dialogs: DialogsSlice = { stage: 'shape' };
