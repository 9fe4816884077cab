import {
  byStaffOrder,
  DEFAULT_KIT,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { barTicks, type Ticks } from '../time';
import { placeHits, type StrandHit } from './hits';
import { chosenHits, freeIds } from './strands';

/** Hits that were copied: with their strands and pushes, counted from the first one's step. */
export interface Clip {
  hits: StrandHit[];
  /** From the first hit's step to the end of the last one's. */
  length: Ticks;
  /** How far into its bar the first hit's step lies. */
  inBar?: Ticks;
}

/** Takes the chosen hits as a clip; undefined when nothing is chosen. */
export function clipOf(pattern: Pattern, ids: ReadonlySet<string>): Clip | undefined {
  const chosen = chosenHits(pattern, ids);
  if (chosen.length === 0) return undefined;
  const first = Math.min(...chosen.map(({ hit }) => hit.at));
  const last = Math.max(...chosen.map(({ hit }) => hit.at));
  const { step } = pattern;
  const from = Math.floor(first / step) * step;
  return {
    hits: chosen.map(({ piece, hit }) => ({ piece, hit: { ...hit, at: hit.at - from } })),
    length: (Math.floor((last - from) / step) + 1) * step,
    inBar: from % barTicks(pattern.meter),
  };
}

/** The hits of a clip as they would lie in a pattern from tick `at` on, with ids of their own. */
export function clipAt(clip: Clip, at: Ticks, newId: (index: number) => string): StrandHit[] {
  return clip.hits.map(({ piece, hit }, index) => ({
    piece,
    hit: { ...hit, id: newId(index), at: hit.at + at },
  }));
}

/**
 * Where a clip goes that is pasted at a step: at a bar line it keeps its place in the bar, elsewhere it
 * begins at the step. `next` is where it is pasted the next time.
 */
export function pastePlace(pattern: Pattern, clip: Clip, at: Ticks): { at: Ticks; next: Ticks } {
  const bar = barTicks(pattern.meter);
  if (at % bar !== 0) return { at, next: at + repeatAfter(pattern, clip) };
  const lead = clip.inBar ?? 0;
  return { at: at + lead, next: at + Math.ceil((lead + clip.length) / bar) * bar };
}

/** A clip as a pattern of its own: it lies in its bars as it lay in the pattern it came from. */
export function patternOfClip(clip: Clip, from: Pattern): Pattern {
  const bar = barTicks(from.meter);
  const lead = clip.inBar ?? 0;
  const strands = new Map<PieceId, Hit[]>();
  for (const { piece, hit } of clipAt(clip, lead, (index) => clip.hits[index].hit.id)) {
    strands.set(piece, [...(strands.get(piece) ?? []), hit]);
  }
  return {
    ...from,
    strands: [...strands].map(([piece, hits]) => ({ piece, hits })),
    length: Math.ceil((lead + clip.length) / bar) * bar,
  };
}

/**
 * The hits of a clip on other rows: its topmost strand on the row that is asked for, the others as many rows
 * below it as they lie below the topmost one.
 * @param rows all rows, from the top
 * @returns the hits that have a row, and where each strand went; those that have none are `beyond`
 */
export function ontoRows(
  hits: readonly StrandHit[],
  rows: readonly PieceId[],
  onto: PieceId,
): { hits: StrandHit[]; went: Map<PieceId, PieceId>; beyond: PieceId[] } {
  const pieces = [...new Set(hits.map(({ piece }) => piece))];
  const ordered = rows.filter((row) => pieces.includes(row));
  ordered.push(...pieces.filter((piece) => !rows.includes(piece)).sort(byStaffOrder));
  const by = rows.indexOf(onto) - Math.max(0, rows.indexOf(ordered[0]));
  const went = new Map<PieceId, PieceId>();
  const beyond: PieceId[] = [];
  ordered.forEach((piece, index) => {
    const place = rows.includes(piece) ? rows.indexOf(piece) + by : rows.indexOf(onto) + index;
    const row = rows[place];
    if (row) went.set(piece, row);
    else beyond.push(piece);
  });
  const there = hits.filter(({ piece }) => went.has(piece));
  return { hits: there.map((on) => ({ ...on, piece: went.get(on.piece)! })), went, beyond };
}

/** How far a clip lies from its repeat: on the next beat, half bar or bar, where one starts again. */
export function repeatAfter(pattern: Pattern, clip: Clip): Ticks {
  const bar = barTicks(pattern.meter);
  const unit = [480, 960, 1920, bar].find((room) => clip.length <= room && bar % room === 0);
  return unit ?? Math.ceil(clip.length / bar) * bar;
}

/** Repeats the chosen hits until `to`; what they land on gives way. */
export function fillTo(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  until: Ticks,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const to = Math.min(until, pattern.length);
  const clip = clipOf(pattern, ids);
  if (!clip) return pattern;
  const first = Math.min(...chosenHits(pattern, ids).map(({ hit }) => hit.at));
  const start = Math.floor(first / pattern.step) * pattern.step;
  const by = repeatAfter(pattern, clip);
  const free = freeIds(pattern);
  const copies: StrandHit[] = [];
  for (let at = start + by; at < to; at += by) {
    const round = clipAt(clip, at, (index) => free(clip.hits[index].hit.id));
    for (const copy of round) if (copy.hit.at < to) copies.push(copy);
  }
  return copies.length === 0 ? pattern : placeHits(pattern, copies, kit);
}

export const PASTE_MODES = ['replace', 'add'] as const;
/** What pasting does to what is there. */
export type PasteMode = (typeof PASTE_MODES)[number];

/**
 * The pattern with a clip from tick `at` on. `replace` first takes out what lies in that time on the
 * strands of the clip; `add` only gives way step by step.
 */
export function pasteClip(
  pattern: Pattern,
  clip: Clip,
  at: Ticks,
  options: { mode: PasteMode; seed: string; onto?: PieceId },
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const free = freeIds(pattern);
  const pieces = new Set(clip.hits.map(({ piece }) => piece));
  const onto = pieces.size === 1 ? options.onto : undefined;
  const hits = clipAt(clip, at, (index) => free(`${options.seed}-${index}`)).map((on) =>
    onto ? { ...on, piece: onto } : on,
  );
  if (options.mode === 'add') return placeHits(pattern, hits, kit);
  const cleared = onto ? new Set([onto]) : pieces;
  const strands = pattern.strands.map((strand) => {
    if (!cleared.has(strand.piece)) return strand;
    const kept = strand.hits.filter((hit) => hit.at < at || hit.at >= at + clip.length);
    return kept.length === strand.hits.length ? strand : { ...strand, hits: kept };
  });
  return placeHits({ ...pattern, strands }, hits, kit);
}

/** The chosen hits once more, right after themselves; the very same pattern where there is no room. */
export function duplicateHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  seed: string,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const clip = clipOf(pattern, ids);
  if (!clip) return pattern;
  const first = Math.min(...chosenHits(pattern, ids).map(({ hit }) => hit.at));
  const start = Math.floor(first / pattern.step) * pattern.step;
  const free = freeIds(pattern);
  const at = start + repeatAfter(pattern, clip);
  const copies = clipAt(clip, at, (index) => free(`${seed}-${index}`));
  return placeHits(pattern, copies, kit);
}
