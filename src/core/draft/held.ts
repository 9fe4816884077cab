import { anchored, spanOver, type Pattern, type PieceId, type Song, type Span } from '../model';
import { DEFAULT_STEP } from '../time';
import { barLinesOf, laidPlaces, placeName, wovenOf, type LaidPlace } from '../weave';
import { marksOf, touchedBars } from './marks';
import { isOfDraft, ownName, SPAN } from './names';
import { heldBars, runsOf, saidBarList } from './report';

/**
 * Puts the bars that a draft leaves alone as they were, note for note: where a draft changed what lies below or over
 * what a hand did, what was heard there before is laid over the place.
 * @param before the song that was drafted
 * @param after what became of it, with the same places
 */
export function asHeld(before: Song, after: Song): Song {
  const held = heldBars(before);
  if (held.every((bars) => bars.length === 0)) return after;
  const laidBefore = laidPlaces(before);
  const patterns: Pattern[] = [];
  const known = new Map(after.patterns.map((pattern) => [pattern.id, pattern]));
  const taken = new Set<string>();
  // A later draft keeps the same bars under the same name.
  const isFree = (id: string) => {
    const there = known.get(id);
    const again = there?.drafted?.source === HELD && touchedBars(there)?.size === 0;
    return !taken.has(id) && (!there || again) && !there?.locked;
  };
  const kept = new Map<string, Span[]>();
  laidPlaces(after).forEach((now, i) => {
    const was = laidBefore[i];
    const lines = barLinesOf(now.section);
    for (const [first, last] of runsOf(held[i])) {
      const stretch = { from: lines[first], to: lines[last + 1] };
      const heard = (song: Song, laid: LaidPlace) => wovenOf(song, laid, stretch, 'place').pattern;
      const [own, other] = [heard(before, was), heard(after, now)].map(byPiece);
      if (piecesApart(own, other).length === 0) continue;
      // Hand-made overlays of the place stay on top of it.
      const below = heard(before, withoutOwn(before, was));
      const pieces = piecesApart(byPiece(below), byPiece(heard(after, withoutOwn(after, now))));
      const name = `held-${first + 1}-${last + 1}`;
      let id = `${ownName(now.place.id)}${name}`;
      while (!isFree(id)) id += '-2';
      taken.add(id);
      const bars = Array.from({ length: last - first + 1 }, (_, n) => now.firstBar + first + n + 1);
      const dye = known.get(id)?.dye ?? below.dye;
      const head = { id, dye, name: `${placeName(after, now)}, as it was`.slice(0, 200) };
      patterns.push(asDrafted({ ...below, ...head }, pieces, bars));
      const spans = kept.get(now.place.id) ?? kept.set(now.place.id, []).get(now.place.id)!;
      spans.push(
        spanOver(id, `${SPAN}${name}`, {
          role: 'change',
          ...anchored(stretch.from, stretch.to, now.end - now.start),
          pieces,
        }),
      );
    }
  });
  if (kept.size === 0) return after;
  const places = after.places.map((place) => {
    const spans = kept.get(place.id);
    if (!spans) return place;
    const is = (span: Span) => isOfDraft(after, span, place.id);
    return {
      ...place,
      overlay: [...place.overlay.filter(is), ...spans, ...place.overlay.filter((one) => !is(one))],
      drafted: [...(place.drafted ?? []), ...spans.map(({ id }) => id)],
    };
  });
  return { ...after, places, patterns: withPatterns(after.patterns, patterns) };
}

/** The source of a pattern that keeps bars as they were. */
const HELD = 'held';

/** Patterns with others, which take the places of those of the same name. */
function withPatterns(patterns: readonly Pattern[], others: readonly Pattern[]): Pattern[] {
  const fresh = new Map(others.map((pattern) => [pattern.id, pattern]));
  const there = new Set(patterns.map(({ id }) => id));
  return [
    ...patterns.map((pattern) => fresh.get(pattern.id) ?? pattern),
    ...others.filter(({ id }) => !there.has(id)),
  ];
}

/** A place with nothing over it but what a draft laid. */
const withoutOwn = (song: Song, laid: LaidPlace): LaidPlace => ({
  ...laid,
  place: {
    ...laid.place,
    overlay: laid.place.overlay.filter((span) => isOfDraft(song, span, laid.place.id)),
  },
});

/** The strokes of each piece of a pattern, as a text that tells whether they are the same. */
const byPiece = ({ strands, swing }: Pattern): Map<PieceId, string> =>
  new Map(
    strands.flatMap(({ piece, hits }) =>
      hits.length === 0
        ? []
        : [[piece, JSON.stringify([swing, hits.map(({ id: _, ...hit }) => hit)])] as const],
    ),
  );

const piecesApart = (a: ReadonlyMap<PieceId, string>, b: ReadonlyMap<PieceId, string>) =>
  [...new Set([...a.keys(), ...b.keys()])].filter((piece) => a.get(piece) !== b.get(piece));

/** A drafted pattern of the strokes of some pieces, with the reason that it keeps them. @param bars of the song, from 1 */
function asDrafted(heard: Pattern, pieces: readonly PieceId[], bars: readonly number[]): Pattern {
  const strands = heard.strands.flatMap(({ piece, hits }) =>
    pieces.includes(piece) && hits.length > 0
      ? [{ piece, hits: hits.map((hit, n) => ({ ...hit, id: `${piece}@${n + 1}` })) }]
      : [],
  );
  const says = `kept as it was: a draft leaves ${saidBarList(bars)}`;
  const pattern: Pattern = {
    ...heard,
    kind: 'groove',
    step: DEFAULT_STEP,
    local: true,
    strands,
  };
  const hits = strands.flatMap((strand) => strand.hits.map(({ id }) => id));
  return {
    ...pattern,
    drafted: {
      as: 'change',
      seed: 0,
      source: HELD,
      says,
      bars: marksOf(pattern),
      turns: [],
      whys: hits.length > 0 ? [{ says, hits }] : [],
    },
  };
}
