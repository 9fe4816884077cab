import { byStaffOrder, MIN_PATTERN, type Kit, type Pattern, type Strand } from '../model';
import { pulseTicks, sameMeter } from '../time';
import { freeIds, inStepOrder, unlooped } from './strands';
import { carried } from './swing';

/** The chosen hits as a pattern: rows without any of them are left out. The very same when all are chosen. */
export function onlyHits(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  const strands = pattern.strands.flatMap((strand): Strand[] => {
    const hits = strand.hits.filter(({ id }) => ids.has(id));
    if (hits.length === strand.hits.length && hits.length > 0) return [strand];
    const { from: _, ...rest } = strand;
    return hits.length > 0 ? [{ ...rest, hits }] : [];
  });
  const same =
    strands.length === pattern.strands.length && strands.every((s, i) => s === pattern.strands[i]);
  return same ? pattern : { ...pattern, strands };
}

/**
 * The pattern from the beat of its first hit to the end of the beat of its last one. Strands that loop at a
 * length of their own run through it all, so that it stays as long as it is. Hits sound as they did.
 */
export function croppedToHits(pattern: Pattern): Pattern {
  const { strands, meter, length } = pattern;
  const ats = strands.flatMap(({ hits }) => hits.map(({ at }) => at));
  if (ats.length === 0 || strands.some(({ loopTicks }) => loopTicks)) return pattern;
  const beat = pulseTicks(meter);
  const from = Math.floor(ats.reduce((a, b) => Math.min(a, b)) / beat) * beat;
  const last = (Math.floor(ats.reduce((a, b) => Math.max(a, b)) / beat) + 1) * beat;
  const to = Math.max(from + MIN_PATTERN, Math.min(length, last));
  if (to - from >= length) return pattern;
  const { turns: _, joined: __, ...rest } = pattern;
  const cropped: Pattern = { ...rest, length: to - from };
  return {
    ...cropped,
    strands: strands.map((strand) => ({
      ...strand,
      hits: strand.hits.map((hit) => carried(hit, pattern, cropped, hit.at - from)),
    })),
  };
}

/** Why patterns cannot be laid over each other; undefined when they can. */
export function whyNotLaidTogether(patterns: readonly Pattern[]): string | undefined {
  if (patterns.length < 2) return 'Choose at least two patterns to lay over each other.';
  const [first] = patterns;
  if (
    patterns.some(({ length, meter }) => length !== first.length || !sameMeter(meter, first.meter))
  )
    return 'Only patterns of the same length and meter can be laid over each other. To play one after another, join them.';
  return undefined;
}

/**
 * Patterns of one length as one, all of them sounding at once as tracks of one kit do. A stroke that two of
 * them have at the same moment on the same piece is struck once, as hard as the harder one.
 */
export function laidTogether(
  patterns: readonly Pattern[],
  head: Pick<Pattern, 'id' | 'name' | 'dye'>,
  kit: Kit,
): Pattern | undefined {
  if (whyNotLaidTogether(patterns)) return undefined;
  const [first, ...others] = patterns;
  const {
    groove: _,
    notes: __,
    stars: ___,
    local: ____,
    locked: _____,
    joined: ______,
    ...plain
  } = first;
  let result: Pattern = { ...plain, ...head };
  for (const other of others) result = withAll(result, other);
  const strands = [...result.strands].sort((a, b) => byStaffOrder(a.piece, b.piece, kit));
  return { ...result, strands };
}

function withAll(pattern: Pattern, other: Pattern): Pattern {
  const free = freeIds(pattern);
  const strands = [...pattern.strands];
  for (const strand of other.strands) {
    const at = strands.findIndex(({ piece }) => piece === strand.piece);
    const there = strands[at];
    // Two loops of different lengths on one row are written out.
    const apart = there && there.loopTicks !== strand.loopTicks;
    const heard = apart ? unlooped(other, strand) : strand.hits;
    const hits = heard.map((hit) => ({
      ...carried(hit, other, pattern, hit.at),
      id: free(hit.id),
    }));
    if (!there) {
      strands.push({ ...strand, hits });
      continue;
    }
    const { loopTicks, from: _, ...rest } = there;
    const own = apart ? unlooped(pattern, there) : there.hits;
    const loop = !apart && loopTicks ? { loopTicks } : {};
    strands[at] = { ...rest, ...loop, hits: struckOnce([...own, ...hits]) };
  }
  return { ...pattern, strands };
}

/** Of strokes in the same way at the same moment, the hardest. */
function struckOnce(hits: Strand['hits']): Strand['hits'] {
  const kept = new Map<string, Strand['hits'][number]>();
  for (const hit of hits) {
    const key = `${hit.at} ${hit.push} ${hit.articulation}`;
    const there = kept.get(key);
    if (!there || there.velocity < hit.velocity) kept.set(key, hit);
  }
  return inStepOrder([...kept.values()]);
}
