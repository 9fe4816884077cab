import type { Song, StripSetting, Stroke } from '@/core/model';
import type { Slice, SliceKind } from '@/core/loops';
import type { Samples } from '@/core/time';
import type { Decoded } from '@/audio/decode';

/** A recorded loop that is being cut. */
export interface LoopOnBench {
  name: string;
  file: Decoded;
  outline: Float32Array;
  seconds: number;
  /** 0 finds the softest strokes, 1 the loudest only. */
  threshold: number;
  /** Strokes are being looked for. */
  finding: boolean;
  marks: readonly Samples[];
  bars: number;
  bpm: number;
  slices: readonly Slice[];
  /** What was said to be something else than it seems, by where it begins. */
  kinds: ReadonlyMap<Samples, SliceKind>;
}

/** What Balance shows and works on. */
export interface BalanceSlice {
  /** The chosen track; `ALL_DRUMS` is what all of them go through. */
  trackId?: string;
  /** Tracks that nothing is struck on are listed too. */
  allTracks: boolean;
  /** The mix of a song as it was when it was noted. */
  mixBefore?: Pick<Song, 'mixes' | 'kit'> & { songId: string | undefined };
  /** While it is heard as it was then: the mix that it is compared with. */
  comparedMix?: Pick<Song, 'mixes' | 'kit'>;
  /** What is heard alone is heard without room, echo and the bus of all drums. */
  soloDry: boolean;
  /** The kits are listed beside the tracks. */
  kitsOpen: boolean;
  /** The piece whose sound is opened in the card of its track. */
  openedPiece?: string;
  /** What is done to its sound is done to all of its family. */
  allOfFamily: boolean;
  /** A recorded loop that is being cut. */
  slicing?: LoopOnBench;
  /** The stroke that the next note of a controller is learnt for. */
  learning?: Stroke;
  /** The strip that was copied. */
  copiedStrip?: StripSetting;
}

/** No track has this name: names of tracks that are made are letters and figures. */
export const ALL_DRUMS = '*';

export const balance: BalanceSlice = {
  allTracks: false,
  soloDry: false,
  kitsOpen: false,
  allOfFamily: false,
};
