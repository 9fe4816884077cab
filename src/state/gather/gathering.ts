import type { Pattern } from '@/core';
import type { FitBy } from '@/core/guide';
import type { Filter, Groove, Group, SortBy } from '@/core/library';
import type { PieceId } from '@/core/model';
import type { GrooveRemark } from '@/storage/library/library';
import type { Audition } from '../store';

/** The filters of the list, by what their fields are called: the palette reaches each by that. */
export const FILTERS = [
  'family',
  'kind',
  'meter',
  'with',
  'without',
  'stars',
  'resolution',
] as const;
export type FilterName = (typeof FILTERS)[number];

/** What Gather shows. The library belongs to the browser, not to a song: it has a store of its own. */
export interface Gathering {
  status: 'idle' | 'loading' | 'ready';
  problem?: string;
  grooves: readonly Groove[];
  remarks: ReadonlyMap<string, GrooveRemark>;
  filter: Filter;
  sort: { by: SortBy; down: boolean };
  /** Only grooves like this one, the nearest first. */
  like?: { id: string; groups: readonly Group[] };
  chosen?: string;
  /** The parts of the groove `partsOf`: one, or the sections of a song. They follow the choice. */
  parts: readonly Pattern[];
  partsOf?: string;
  part: number;
  /** Only these bars of it, counted from 0, the last one not included; absent is all. */
  bars?: { from: number; to: number };
  /** Only these pieces of it are heard and taken; none is all. */
  pieces: readonly PieceId[];
  wait: Audition['wait'];
  /** What of a groove is measured against the guide. */
  fitBy: FitBy;
  /** What a listener hears of a shipped family, and what it is for. */
  families: ReadonlyMap<string, string>;
  tab: 'groove' | 'shelf' | 'offcuts';
  /** Grooves that were passed over stay in the list, or go. */
  showPassed: boolean;
}
