import type { Menu } from '@/core/commands';
import type { Stage } from '../store';

/** What an act is listed under. */
export const ACT_GROUPS = {
  play: 'Playing',
  edit: 'Anywhere',
  go: 'Going places',
  gather: 'Gather',
  shape: 'Shape',
  tools: 'Shape, the menus',
  weave: 'Weave',
  balance: 'Balance',
  files: 'Songs and files',
} as const;
export type ActGroup = keyof typeof ACT_GROUPS;

/** Something the user can do by name: found in the palette, reached by its key, listed with it. */
export interface Act {
  id: string;
  name: string;
  /** Other words that it is looked for by. */
  also?: string;
  group: ActGroup;
  /** Keys in the form `mod+shift+z`; `mod` is Ctrl, or Cmd on a Mac. Several are alternatives. */
  keys?: readonly string[];
  /** A line of a menu of Shape, and the letter that runs it once the menu is open. */
  menu?: { of: Menu; letter: string; words: string };
  /** It goes as far as the chosen reach: here only, all linked, everywhere. */
  reaches?: true;
  /** Only on this stage. */
  stage?: Stage;
  /** The browser goes on with its keys: it copies or pastes, which the page hears of then. */
  passes?: true;
  /** Only while a song is open. */
  needsSong?: true;
  run: () => void;
}

/** Makes the acts of one stage, which are listed under it. */
export function actsOf(stage: Extract<Stage, ActGroup>) {
  return (
    id: string,
    name: string,
    keys: readonly string[],
    run: () => void,
    also?: string,
  ): Act => ({
    group: stage,
    stage,
    needsSong: true,
    id,
    name,
    ...(keys.length > 0 && { keys }),
    ...(also && { also }),
    run,
  });
}

/** The key that opens each menu of Shape. */
export const MENU_KEYS: Readonly<Record<Menu, string>> = {
  select: 'f',
  velocity: 'd',
  timing: 't',
  voice: 'i',
  time: 's',
  ornaments: 'o',
  row: 'k',
  pattern: 'b',
};
