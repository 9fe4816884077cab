import type { PieceId } from '@/core/model';
import type { Opened, Range, Reach, SpanAddress } from '@/core/weave';

/** What stands under the cloth. */
export const WEAVE_VIEWS = [
  'place',
  'same',
  'playable',
  'fit',
  'vary',
  'draft',
  'perform',
] as const;
export type WeaveView = (typeof WEAVE_VIEWS)[number];

/** What Weave shows and works on. */
export interface WeaveSlice {
  /** The place that was chosen last, and all that are chosen. */
  placeId?: string;
  placeIds: readonly string[];
  /** Chosen bars of the song. */
  bars?: Range;
  /** The chosen row. */
  row?: PieceId;
  /** What is laid over something, and chosen. */
  laid?: SpanAddress;
  /** How far edits go. */
  reach: Reach;
  /** A pattern that Shape works on where a place plays it. */
  opened?: Opened;
  weaveView: WeaveView;
  /** How much of what becomes a sound is rendered, 0 to 1; absent when nothing is. */
  bouncing?: number;
  /** The finding of a view that is looked at, counted from 0. */
  finding: number;
  /** Width of a bar in pixels; 0 is as wide as fits. */
  barWidth: number;
  /** Whether the line of energy is seen over the cloth when nothing is drafted, too. */
  energyShown: boolean;
  /** How wide the cloth may be, in pixels. */
  clothWidth: number;
}

export const weave: WeaveSlice = {
  placeIds: [],
  reach: 'section',
  weaveView: 'place',
  finding: 0,
  barWidth: 0,
  energyShown: false,
  clothWidth: 900,
};
