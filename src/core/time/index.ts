/** Musical time: ticks, meters, bars, tempo, steps and swing. */
export {
  barAt,
  barNumber,
  saidBars,
  sameMeters,
  ticksOfBars,
  type Bar,
  type MeterChange,
} from './bars';
export {
  barTicks,
  beatTicks,
  pulseTicks,
  clickTicks,
  COMMON_TIME,
  isMeter,
  MAX_METER_BEATS,
  METER_UNITS,
  meterName,
  sameMeter,
  type Meter,
} from './meter';
export { pushInMs, pushOfMs } from './milliseconds';
export { gridsOf, groupsOf, valueOf, type Grid, type NoteValue, type Tuplet } from './noteValues';
export { DEFAULT_STEP, nextStep, STEP_RATES, tripletOrStraight, type StepRate } from './steps';
export { straightened, swungBy, type Swing } from './swing';
export { compileTempo, MAX_BPM, MIN_BPM, TempoMap, tempoMapOf, type TempoChange } from './tempo';
export * from './units';
