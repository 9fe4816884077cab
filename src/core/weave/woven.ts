import {
  byStaffOrder,
  findPattern,
  type Hit,
  type Pattern,
  type PieceId,
  type Song,
} from '../model';
import { soundsOn, swingOf } from '../pattern';
import { barAt, DEFAULT_STEP, type Ticks } from '../time';
import { covers, stackOf, type LaidPlace, type LaidSpan } from './sections';

/** The name of a pattern that is what a stretch of the song plays, all in one. It is on no shelf. */
export const WOVEN = 'woven here';

/** A stretch of a place, in ticks from its start. */
export interface Stretch {
  from: Ticks;
  to: Ticks;
}

/** Where a hit of a woven pattern comes from. */
export interface HitSource {
  pattern: string;
  hit: string;
}

/** What a stretch plays, as one pattern. */
export interface Woven {
  pattern: Pattern;
  /** By the ids of its hits. */
  sources: ReadonlyMap<string, HitSource>;
}

/** Whose stack is asked: of the place with what is laid over it, or of its section alone. */
export type Whose = 'place' | 'section';

/**
 * What a stretch of a place plays, written out as one pattern that sounds the same: its hits on their
 * steps, pushed so that what swings otherwise below is heard where it was.
 * @param stretch bounded to the place
 */
export function wovenOf(song: Song, laid: LaidPlace, stretch: Stretch, whose: Whose): Woven {
  const from = Math.max(0, stretch.from);
  const to = Math.min(laid.end - laid.start, stretch.to);
  const stack = stackOf(laid).filter(({ overlay }) => whose === 'place' || !overlay);
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const base = baseOf(stack, patterns, from, to);
  const frame: Pattern = {
    id: WOVEN,
    name: base?.name ?? laid.section.name,
    kind: base?.kind ?? 'groove',
    meter: base?.meter ?? barAt(laid.section.meters, from).meter,
    length: to - from,
    step: base?.step ?? DEFAULT_STEP,
    strands: [],
    dye: base?.dye ?? 0,
    ...(base?.swing && { swing: base.swing }),
  };
  const strands = new Map<PieceId, Hit[]>();
  for (const { piece } of base?.strands ?? []) strands.set(piece, []);
  const sources = new Map<string, HitSource>();
  stack.forEach((lies, i) => {
    const pattern = patterns.get(lies.span.pattern);
    if (!pattern) return;
    const above = stack.slice(i + 1).filter(({ span }) => span.mode === 'replace');
    for (const { piece, hit, home } of hitsOf(pattern, lies, from, to)) {
      if (above.some((other) => covers(other, piece, home))) continue;
      const at = home - from;
      const inPattern = (home - lies.from + lies.offset) % pattern.length;
      const by = swingOf(pattern, inPattern) - swingOf(frame, at);
      const { cycle: _, ...rest } = hit;
      const id = freeOf(hit.id, sources);
      sources.set(id, { pattern: pattern.id, hit: hit.id });
      const list = strands.get(piece) ?? strands.set(piece, []).get(piece)!;
      list.push({ ...rest, id, at, push: by === 0 ? hit.push : hit.push + by });
    }
  });
  const list = [...strands].map(([piece, hits]) => {
    const own = base?.strands.find((strand) => strand.piece === piece);
    hits.sort((a, b) => a.at - b.at);
    return { piece, hits, ...(own?.stepTicks && { stepTicks: own.stepTicks }) };
  });
  list.sort((a, b) => byStaffOrder(a.piece, b.piece, song.kit));
  return { pattern: { ...frame, strands: list }, sources };
}

/** The pattern a stretch is mostly made of: the topmost that plays the whole kit when it begins. */
function baseOf(
  stack: readonly LaidSpan[],
  patterns: ReadonlyMap<string, Pattern>,
  from: Ticks,
  to: Ticks,
): Pattern | undefined {
  const here = stack.filter((lies) => lies.from < to && lies.to > from);
  const groove = here.filter(({ span }) => span.pieces === 'all');
  const first = groove.findLast((lies) => lies.from <= from) ?? groove.at(-1) ?? here.at(-1);
  return first && patterns.get(first.span.pattern);
}

/** The hits of a span that belong to a stretch of its section. */
function* hitsOf(
  pattern: Pattern,
  { span, from: begins, to: ends, offset }: LaidSpan,
  from: Ticks,
  to: Ticks,
): Generator<{ piece: PieceId; hit: Hit; home: Ticks }> {
  const first = Math.max(begins, from);
  const last = Math.min(ends, to);
  for (const { piece, hits, loopTicks: period = pattern.length } of pattern.strands) {
    if (hits.length === 0 || (span.pieces !== 'all' && !span.pieces.includes(piece))) continue;
    const start = begins - offset;
    for (
      let round = start + Math.floor((first - start) / period) * period;
      round < last;
      round += period
    ) {
      for (const hit of hits) {
        const home = round + hit.at;
        if (home < first || home >= last) continue;
        if (!soundsOn(hit, Math.floor((home - start) / pattern.length))) continue;
        yield { piece, hit, home };
      }
    }
  }
}

function freeOf(id: string, taken: ReadonlyMap<string, unknown>): string {
  if (!taken.has(id)) return id;
  let n = 2;
  while (taken.has(`${id}~${n}`)) n++;
  return `${id}~${n}`;
}

/** A round of a pattern in a place: the stretch that is looked at when it is opened there. */
export interface Round extends Stretch {
  pattern: string;
}

/**
 * The round of a pattern that a place plays at a tick, counted from the start of the place: of the
 * topmost span that has the piece, or of the topmost one at all.
 */
export function roundAt(
  song: Song,
  laid: LaidPlace,
  tick: Ticks,
  piece?: PieceId,
): Round | undefined {
  const here = stackOf(laid).filter(({ from, to }) => tick >= from && tick < to);
  const wide = here.filter(({ span }) => !findPattern(song, span.pattern)?.local);
  const lies =
    wide.findLast(
      ({ span }) =>
        piece !== undefined &&
        (span.pieces === 'all' || span.pieces.includes(piece)) &&
        findPattern(song, span.pattern)?.strands.some(
          (strand) => strand.piece === piece && strand.hits.length > 0,
        ),
    ) ??
    wide.findLast(({ span }) => span.pieces === 'all') ??
    wide.at(-1) ??
    here.at(-1);
  const pattern = lies && findPattern(song, lies.span.pattern);
  if (!pattern) return undefined;
  const start = lies.from - lies.offset;
  const begins = start + Math.floor((tick - start) / pattern.length) * pattern.length;
  return {
    pattern: pattern.id,
    from: Math.max(lies.from, begins),
    to: Math.min(lies.to, begins + pattern.length),
  };
}
