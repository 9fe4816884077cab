/** What plays: sequencer, voices, desk and click, and the score they play from. */
export { BLOCK, firstFrom } from './block';
export { Click } from './click';
export { Desk, TRACK_SIZE, type MasterReading } from './desk';
export {
  compileDesk,
  laneOfPiece,
  routesOf,
  usualDesk,
  type DeskTable,
  type LaneSetting,
  type Routes,
  type StripTable,
} from './deskTable';
export { Engine, type Strike } from './engine';
export { Lane } from './lane';
export { Limiter } from './limiter';
export {
  LONGEST_TAIL,
  Rendering,
  renderMix,
  renderScore,
  renderStems,
  soundsFor,
  type MixOptions,
  type RenderedMix,
  type Stem,
} from './mix';
export {
  compileLoop,
  compileScore,
  scoreWithin,
  countInAt,
  MOVE_SIZE,
  MOVES,
  notesIn,
  TOUCH_SIZE,
  type CountIn,
  type LoopCue,
  type Score,
} from './score';
export { Echo, Room } from './sends';
export { Sequencer, type Cued, type PlayOptions, type Played } from './sequencer';
export { Strip } from './strip';
export { TruePeakMeter } from './truePeak';
export { made } from './swell';
export { Voice, type VoiceTouch } from './voice';
export { Voices } from './voices';
