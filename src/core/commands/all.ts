import { BARS } from './bars';
import type { AnyDefinition } from './definition';
import { DRAFT } from './draft';
import { GUIDES } from './guides';
import { HITS } from './hits';
import { MIXING } from './mixing';
import { ORNAMENTS } from './ornaments';
import { ROWS } from './rows';
import { SECTIONS } from './sections';
import { SHAPE_OF_TIME } from './shapeOfTime';
import { SHELF } from './shelf';
import { TIMING } from './timing';
import { SPANS } from './spans';
import type { Told } from './value';
import { VELOCITY } from './velocity';
import { VOICE } from './voice';

const ALL = {
  ...HITS,
  ...VELOCITY,
  ...TIMING,
  ...VOICE,
  ...SHAPE_OF_TIME,
  ...ORNAMENTS,
  ...ROWS,
  ...BARS,
  ...SHELF,
  ...SECTIONS,
  ...SPANS,
  ...DRAFT,
  ...GUIDES,
  ...MIXING,
};

/** The name of a command: what undo shows. */
export type CommandName = keyof typeof ALL;

/** Every change that can be made to a song, by its name. */
export const COMMANDS = ALL as unknown as Readonly<Record<CommandName, AnyDefinition>>;

export const COMMAND_NAMES = Object.keys(ALL) as CommandName[];

/** What a command is told beside its name. */
export type ToldOf<K extends CommandName> = Told<(typeof ALL)[K]['values']>;

/** A change as a value. */
export type Command = { [K in CommandName]: { type: K } & ToldOf<K> }[CommandName];
