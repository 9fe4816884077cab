/** Where tracks go while they play, as it was set on this machine. */
export interface LiveSetting {
  /** By the ids of tracks: an output, a channel from 0, milliseconds. */
  routes: Readonly<Record<string, { output: string; channel?: number; offset: number }>>;
  /** Outputs that are sent start, stop and clock. */
  clocks: readonly string[];
}

export const NO_ROUTES: LiveSetting = { routes: {}, clocks: [] };
