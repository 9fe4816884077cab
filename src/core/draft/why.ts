import { findPattern, pieceOf, type PieceId, type Song } from '../model';
import { barAt, barTicks, type Ticks } from '../time';
import { laidPlaces, placeName, stackOf, type LaidPlace, type LaidSpan } from '../weave';
import { energyOf, meanLevel } from './energy';
import { touchedBars, whyHit } from './marks';
import { isStrokeId, strokeId } from './phrases';

/** Why something is there. */
export interface Why {
  /** “Why this fill?” */
  asks: string;
  /** A sentence or two, of a drummer’s words. */
  says: string[];
}

/** What is asked about: a bar of a place, or the stroke of a piece that is nearest to a moment of it. */
export interface WhySpot {
  place: string;
  /** Ticks from the start of the place. */
  at: Ticks;
  piece?: PieceId;
}

/** Why a bar, or a stroke, is as it is. @returns undefined where no draft has anything to do with it */
export function whyAt(song: Song, { place, at, piece }: WhySpot): Why | undefined {
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  if (!laid || at < 0 || at >= laid.end - laid.start) return undefined;
  return piece === undefined ? whyBar(song, laid, at) : whyStroke(song, laid, at, piece);
}

const upTo = ({ from, to }: LaidSpan, at: Ticks) => at >= from && at < to;

function whyStroke(song: Song, laid: LaidPlace, spot: Ticks, piece: PieceId): Why | undefined {
  const lies = stackOf(laid).findLast(
    (one) => upTo(one, spot) && (one.span.pieces === 'all' || one.span.pieces.includes(piece)),
  );
  const pattern = lies && findPattern(song, lies.span.pattern);
  if (!lies || !pattern) return undefined;
  if (!pattern.drafted) return elsewhere(pattern.name);
  const home = (spot - lies.from + lies.offset) % pattern.length;
  const hits = pattern.strands.find((strand) => strand.piece === piece)?.hits ?? [];
  const nearest = hits.reduce<(typeof hits)[number] | undefined>(
    (best, hit) => (!best || Math.abs(hit.at - home) < Math.abs(best.at - home) ? hit : best),
    undefined,
  );
  const name = pieceOf(piece, song.kit).name.toLowerCase();
  if (!nearest || Math.abs(nearest.at - home) > 480) return whyBar(song, laid, spot);
  // The name of a drafted stroke says where it was drafted: one that was moved has lost its reason.
  const bar = Math.floor((nearest.at + 1e-6) / barTicks(pattern.meter));
  const at = nearest.at - bar * barTicks(pattern.meter);
  const moved = isStrokeId(nearest.id) && !nearest.id.startsWith(strokeId(piece, bar, at));
  const own = moved ? undefined : whyHit(pattern.drafted, nearest.id);
  const says = own ? [own] : [`This ${name} was ${moved ? 'moved' : 'put'} there by hand.`];
  if (own && touchedBars(pattern)?.has(bar)) {
    says.push('Its bar was changed by hand since: a new draft leaves it.');
  }
  return { asks: pattern.drafted.as === 'fill' ? 'Why this fill?' : `Why this ${name}?`, says };
}

function whyBar(song: Song, laid: LaidPlace, at: Ticks): Why | undefined {
  const { bar, start } = barAt(laid.section.meters, at);
  const here = stackOf(laid).filter((lies) => upTo(lies, at));
  const line = energyOf(song).find(({ place }) => place === laid.place.id);
  const says: string[] = [];
  let asks = `Why bar ${laid.firstBar + bar + 1}?`;
  for (const lies of here) {
    const pattern = findPattern(song, lies.span.pattern);
    if (!pattern) continue;
    const { drafted } = pattern;
    if (!drafted) {
      says.push(`“${pattern.name}” is not of the draft.`);
      continue;
    }
    if (drafted.as === 'fill') asks = 'Why this fill?';
    if (drafted.as === 'groove') {
      const level = line ? Math.round(100 * meanLevel(line.points, start, start + 1)) : 50;
      says.push(`${placeName(song, laid)} plays “${drafted.source}”, at ${level} % energy.`);
    } else says.push(sentence(drafted.says));
    const n = Math.floor(
      ((start - lies.from + lies.offset) % pattern.length) /
        (pattern.length / Math.max(1, drafted.bars.length)),
    );
    const touched = touchedBars(pattern);
    if (touched === undefined || touched.has(n))
      says.push('It was changed by hand: a new draft leaves it.');
    if (drafted.turns.includes(n)) {
      const turn = drafted.whys.find(
        ({ says: why, hits }) =>
          why.includes('turn of bar') && hits.some((hit) => hit.includes(`@${n + 1}-`)),
      );
      if (turn) says.push(sentence(turn.says));
    }
  }
  return says.length > 0 ? { asks, says } : undefined;
}

const elsewhere = (name: string): Why => ({
  asks: 'Why this stroke?',
  says: [`It is of “${name}”, which is not of the draft.`],
});

/** A reason as a sentence. */
const sentence = (says: string) =>
  `${says.charAt(0).toUpperCase()}${says.slice(1)}${/[.!?]$/.test(says) ? '' : '.'}`;
