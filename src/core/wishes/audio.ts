/**
 * How a file ends: it rings out, it ends with its last bar, or what rings out is laid under its beginning, so that
 * it can be repeated without a seam.
 */
export const ENDINGS = ['tail', 'bar', 'loop'] as const;
export type Ending = (typeof ENDINGS)[number];

/** As it is mixed, or as loud as is wished: by its true peak in dB, or by its loudness in LUFS. */
export const LEVELS = ['mixed', 'peak', 'loudness'] as const;
export type Levelling = (typeof LEVELS)[number];

/** How a song is handed over as sound. */
export interface AudioWish {
  /** All together, and each track of the layout in use by itself. */
  mix: boolean;
  stems: boolean;
  /** With rooms and echoes; without, each stroke is as it is struck. */
  effects: boolean;
  /** Through the bus of all drums; where stems add up, that is one more file beside them. */
  bus: boolean;
  /**
   * The stems add up to the mix, sample by sample: nothing goes through the bus or a limiter, and what would be
   * over full scale is turned down, in all files alike.
   */
  addUp: boolean;
  /** What is muted, or silenced by a solo, stays so. */
  mutes: boolean;
  /** The guides, and the click, are in the mix; with stems, the click is one of them. */
  guides: boolean;
  click: boolean;
  ending: Ending;
  level: Levelling;
  /** The true peak that is wished for, in dB below full scale; and the loudness, in LUFS. */
  peak: number;
  loudness: number;
}

export const USUAL_AUDIO: AudioWish = {
  mix: true,
  stems: false,
  effects: true,
  bus: true,
  addUp: false,
  mutes: true,
  guides: false,
  click: false,
  ending: 'tail',
  level: 'mixed',
  peak: -1,
  loudness: -16,
};
