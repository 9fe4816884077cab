/** Changes to one pattern, and what can be asked of it. Nothing here knows of songs. */
export { cropTo, insertBars, removeBars, repeatBars, type Bars } from './bars';
export {
  clipAt,
  clipOf,
  duplicateHits,
  fillTo,
  ontoRows,
  PASTE_MODES,
  pasteClip,
  pastePlace,
  patternOfClip,
  repeatAfter,
  type Clip,
  type PasteMode,
} from './clip';
export { passesOf, setCycle, setStrandLoop, soundsOn, unrolled, writeOut } from './cycle';
export { applyFeel, takeFeel, unmappedHits } from './feel';
export { isFigure, strokesOf, type Stroke } from './figure';
export { canGrow, grow, suggestions, takeTurn, turnBar, type Suggestion } from './grow';
export { placeHits, removeHits, type StrandHit } from './hits';
export { humanize, type Humanize } from './humanize';
export { croppedToHits, laidTogether, onlyHits, whyNotLaidTogether } from './alone';
export { joinPatterns, splitPattern, whyNotJoined } from './join';
export { copyLane, LANES, laneValue, randomLane, setLane, type Lane, type LaneId } from './lanes';
export { barOfStep, barsHolding, barsOf, countedIn, setLength } from './length';
export { boundShift, copyHits, moveHits, type Shift } from './move';
export { layBack, setPush, straighten } from './nudge';
export {
  plain,
  setBurst,
  setChoke,
  setFlam,
  setSwell,
  toggleReverse,
  writeRoll,
  type Ornament,
  type Roll,
} from './ornament';
export { paint, paintedSteps, type PaintPoint, type PaintedStep, type Painting } from './paint';
export { inMeter, lostInMeter, METER_FITS, type MeterFit } from './meterFit';
export { nearestLine, quantize, type Quantize } from './quantize';
export { landing } from './record';
export { retime, type Wish } from './retime';
export { musicKey, sameMusic } from './sameMusic';
export { moveRow, orderedRows, shownRows, toggleRow } from './rows';
export {
  describedHits,
  grownSelection,
  invertedSelection,
  shrunkSelection,
  type Description,
} from './select';
export {
  doubleTime,
  halfTime,
  mirror,
  reverse,
  roomToSqueeze,
  roomToStretch,
  rotate,
} from './shapeOfTime';
export { spokenCell, spokenPush, spokenSelection, spokenStep, type Counted } from './spoken';
export {
  addStrand,
  allIds,
  chosenHits,
  freeIds,
  hitCount,
  hitOfStep,
  inStepOrder,
  mapHits,
  mapStrands,
  periodOf,
  removeStrand,
  setStrandStep,
  stepOf,
  unlooped,
  withHits,
} from './strands';
export { summary, type Selected } from './summary';
export {
  carried,
  heardAt,
  playedSwing,
  secondsOf,
  setSwing,
  SWING_UNITS,
  swingUnitOf,
  type SwingUnit,
  swingHits,
  swingOf,
  takeOutSwing,
  TRIPLET_SWING,
  writeSwing,
  type Swung,
} from './swing';
export {
  asItCame,
  clearStrand,
  FITS,
  misfit,
  TAKE_MODES,
  takeStrands,
  type Fit,
  type TakeMode,
  type Taking,
} from './take';
export { densify, thinEvery, thinSoftest } from './thin';
export {
  ACCENT_STEPS,
  accentSteps,
  addVelocity,
  alternateHands,
  drawVelocityLine,
  ghostOffBeats,
  levelVelocity,
  rampVelocity,
  randomVelocity,
  scaleVelocity,
  setVelocities,
  setVelocity,
  spreadVelocity,
  type VelocityLine,
} from './velocity';
export {
  alternateWays,
  copyStrand,
  nextArticulation,
  revoice,
  setArticulation,
  swapStrands,
} from './voice';
export { onUsualKit } from './usual';
