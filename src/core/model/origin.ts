/** Where a pattern or song was read from, so that it can go back at the same resolution. */
export interface Origin {
  file: string;
  /** Pulses per quarter note of the source. */
  ppq: number;
}

/** A groove of the library, by name. */
export interface GrooveRef {
  id: string;
  name: string;
  family: string;
}
