/** The audible content of a song as values. Laws, tables and forecasts are stated with it. */
export { heard, heardKeys, mixedAt, type Heard, type HeardHit, type TrackMotion } from './heard';
