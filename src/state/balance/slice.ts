/** What Balance shows and works on. */
export interface BalanceSlice {
  /** The chosen track. */
  trackId?: string;
  /** Tracks that nothing is struck on are listed too. */
  allTracks: boolean;
}

export const balance: BalanceSlice = { allTracks: false };
