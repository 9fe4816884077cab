/** What is heard of a song, as values: what laws, tables and sentences that foretell are stated with. */
export { heard, heardKeys, type Heard, type HeardHit, type TrackMotion } from './heard';
