/** Every change that can be made to a song, each defined once. */
export { COMMAND_NAMES, COMMANDS, type Command, type CommandName, type ToldOf } from './all';
export { METER_CHANGES, type MeterChangeWay } from './bars';
export { CHOOSING, CHOOSING_NAMES, type ChoosingName } from './choosing';
export { applyCommand, attempt, lockAgainst } from './apply';
export {
  MENUS,
  SELECT_FIRST,
  type AnyDefinition,
  type Menu,
  type Offer,
  type Refusal,
} from './definition';
export { asks, fieldsOf, toldBy, type Field, type FieldValue } from './fields';
export { advance, newHistory, nextSteps, redo, undo, type History, type Step } from './history';
export { schemaOf } from './schema';
export {
  accepts,
  type Ask,
  type Bench,
  type Option,
  type Shape,
  type Value,
  type Values,
} from './value';
