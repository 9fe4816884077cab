import {
  drummerOf,
  findPiece,
  type DraftWishes,
  type Kit,
  type Pattern,
  type PieceId,
  type Section,
  type Song,
} from '../model';
import { leftOutBy, strokeReader } from '../playing';
import { chance } from '../random';
import { barTicks, PPQ, ticksOfBars, type Bpm, type Meter, type Ticks } from '../time';
import type { LaidPlace, TimedHit } from '../weave';
import {
  BarLadder,
  isMachine,
  withoutPieces,
  type BarMeans,
  type BarPlayed,
  type DraftStroke,
  type Playable,
} from './bar';
import { STEPS, stepOf } from './dynamics';
import { meanLevel, type EnergyLine } from './energy';
import type { FillWanted } from './fillBook';
import { guidedKicks, mayKick, type GuidedBar } from './guided';
import { ladderOf, plainHit, type Rung } from './ladder';
import { hasPiece } from './onKit';
import { isCrash } from './pool';
import { sourceFor, type DraftLibrary, type Source } from './source';
import { signOf, TURN_KINDS, turnOf, type DraftTurnKind, type TurnMeans } from './turn';
import { seedOf } from './wished';
import type { Written } from './written';

/** The longest pattern that is drafted. */
const LONGEST_PHRASE = 8;

/** A section and its places, as a draft looks at them. */
export interface DraftedSection {
  section: Section;
  /** Names it among the sections of its kind: chance follows from it. */
  key: string;
  places: readonly { laid: LaidPlace; line: EnergyLine }[];
  wishes: DraftWishes;
  bpm: Bpm;
}

/** A bar of a place, ready to be played. */
export interface DraftBar {
  /** Counted from the start of the section. */
  bar: number;
  /** Ticks from the start of the section. */
  start: Ticks;
  meter: Meter;
  source: Source;
  ladder: BarLadder;
  means: BarMeans;
  /** Energy of the place here, 0 to `STEPS`. */
  step: number;
  /** Bars of one name are played alike, but for chance and turns. */
  alike: string;
  /** Whether a kick may be struck at a moment of it. */
  mayKick: (at: Ticks) => boolean;
}

/** Some bars of a place that are one pattern. */
export interface Phrase {
  from: Ticks;
  to: Ticks;
  bars: readonly DraftBar[];
  strokes: readonly (readonly DraftStroke[])[];
  /** Bars of it that are turns, counted from 0. */
  turns: readonly number[];
  /** A turn of it is a fill. */
  fills: boolean;
  /** The bars of it sound the same as those of this earlier one. */
  as?: Phrase;
}

/** The notes of guides in the bars of a section. */
export type GuideReader = (from: Ticks, to: Ticks) => { name: string; onsets: Ticks[] };

/** What the sections of a song are drafted with. */
export interface SongMeans {
  song: Song;
  library: DraftLibrary;
  guide: GuideReader;
}

/** The bars of each place of a section, by the place's id. What could not be had is added to `says`. */
export function barsToDraft(
  { section, key, places, wishes, bpm }: DraftedSection,
  { song, library, guide }: SongMeans,
  says: Set<string>,
): Map<string, DraftBar[]> {
  const seed = Math.floor(chance(wishes.seed, key) * 1e9);
  const has = hasPiece(song.kit, wishes.without);
  for (const piece of [wishes.time, wishes.highTime]) {
    if (piece === undefined || piece === 'feel' || has(piece)) continue;
    const name = findPiece(piece, song.kit)?.name.toLowerCase() ?? `“${piece}”`;
    says.add(`There is no ${name} to keep time with: it is kept as the feel has it.`);
  }
  const sources = new Map<string, Source | undefined>();
  const playable = playableLadders(song, places[0].laid.start);
  const plain = new Map<string, readonly Rung[]>();
  const ladders = new Map<string, BarLadder>();
  const bars = new Map(places.map(({ laid }) => [laid.place.id, [] as DraftBar[]]));
  let inMeter = 0;
  for (let bar = 0; bar < section.bars; bar++) {
    const { meter } = section.meters.findLast((change) => change.bar <= bar)!;
    if (section.meters.some((change) => change.bar === bar)) inMeter = bar;
    const name = `${meter.beats}/${meter.unit}`;
    if (!sources.has(name)) {
      const found = sourceFor(song, library, wishes, { kind: section.kind, key, meter, seed });
      found?.says.forEach((sentence) => says.add(sentence));
      sources.set(name, found);
    }
    const source = sources.get(name);
    if (!source) continue;
    const means: BarMeans = {
      wishes,
      range: source.range,
      kit: song.kit,
      meter,
      bpm,
      seed,
      machine: isMachine(source.pool),
      opensOn: source.pool.opensOn,
    };
    const start = ticksOfBars(section.meters, bar);
    const end = start + barTicks(meter);
    const round = Math.max(1, Math.round(source.groove.length / barTicks(meter)));
    const own = `${name} ${(bar - inMeter) % round}`;
    let rungs = plain.get(own);
    if (!rungs) {
      const of = (bar - inMeter) % round;
      rungs = playable(ladderOf(source.groove, of, source.pool, means), meter);
      plain.set(own, rungs);
    }
    for (const { laid, line } of places) {
      const guided =
        wishes.follow > 0 && has('kick') ? guidedBar(laid, guide, start, end) : undefined;
      const id = `${own} ${guided ? `${guided.first} ${guided.onsets.join()}` : ''}`;
      let ladder = ladders.get(id);
      if (!ladder) {
        const kicks =
          guided && guidedKicks(rungs, guided, wishes.follow, { ...means, pool: source.pool });
        ladder = new BarLadder(rungs, kicks, means, playable);
        ladders.set(id, ladder);
      }
      const step = stepOf(meanLevel(line.points, start, end));
      bars.get(laid.place.id)!.push({
        bar,
        start,
        meter,
        source,
        ladder,
        means,
        step,
        alike: `${id} ${step}`,
        mayKick: (at) => !guided || mayKick(guided, wishes.follow, at),
      });
    }
  }
  return bars;
}

/** The notes of the guides in a bar of a place; undefined where they are silent. */
function guidedBar(
  laid: LaidPlace,
  guide: GuideReader,
  start: Ticks,
  end: Ticks,
): GuidedBar | undefined {
  const { name, onsets } = guide(laid.start + start, laid.start + end);
  if (onsets.length === 0) return undefined;
  // Notes a few ticks apart are one.
  const apart = onsets.filter((at, i) => i === 0 || at - onsets[i - 1] > 40);
  return { name, onsets: apart, first: laid.start + start === 0 };
}

/** Leaves out what no drummer could play in a bar that comes round: of any part of the rest all can be played. */
export function playableLadders(song: Song, start: Ticks): Playable {
  const read = strokeReader(song);
  const drummer = drummerOf(song);
  return (ladder, meter) => {
    const bar = barTicks(meter);
    const timed = (rung: Rung, round: number): TimedHit => ({
      tick: start + round * bar + rung.at + rung.hit.push,
      home: start + round * bar + rung.at,
      piece: rung.piece,
      articulation: rung.hit.articulation,
      velocity: rung.hit.velocity,
      length: undefined,
      channel: 9,
      touch: undefined,
      hit: `${rung.piece} ${rung.at}`,
      pattern: '',
      place: '',
    });
    const hits = [0, 1]
      .flatMap((round) => ladder.map((rung) => timed(rung, round)))
      .sort((a, b) => a.tick - b.tick);
    const left = new Set(leftOutBy(drummer, read(hits)).map((i) => hits[i].hit));
    return left.size === 0 ? ladder : ladder.filter(({ piece, at }) => !left.has(`${piece} ${at}`));
  };
}

/** The strokes of a bar, with the pieces that were rolled by themselves as they fell. */
function playedBar(bar: DraftBar, rolled: ReadonlyMap<PieceId, DraftBar>): BarPlayed {
  const name = String(bar.bar);
  const base = bar.ladder.play(bar.step, name);
  if (rolled.size === 0) return base;
  const others = [...rolled].map(([piece, other]) => {
    const { wished } = other.ladder.play(other.step, name);
    return wished.filter((stroke) => stroke.piece === piece);
  });
  const wished = [...base.wished.filter(({ piece }) => !rolled.has(piece)), ...others.flat()];
  return { plain: base.plain, wished };
}

/** A bar that was played, as the feel has it beside what was made of it. */
export const playedAs = (bar: DraftBar, wished: readonly DraftStroke[]): BarPlayed => ({
  plain: bar.ladder.play(bar.step, String(bar.bar)).plain,
  wished,
});

/** What a turn of a bar is made with. */
export function turnMeans(
  { source, means, bar, step }: DraftBar,
  of: Pick<TurnMeans, 'seed' | 'longest' | 'of' | 'fill' | 'unlike'>,
): TurnMeans {
  return {
    ...of,
    pool: source.pool,
    kit: means.kit,
    meter: means.meter,
    has: hasPiece(means.kit, []),
    seed: Math.floor(chance(of.seed, 'turn', bar) * 1e9),
    energy: step / STEPS,
  };
}

/**
 * The strokes of a bar as they are heard: kicks that may not stand alone go, no crash is struck with nothing below it,
 * and pieces that stay at home are not struck.
 */
export function finished(strokes: readonly DraftStroke[], bar: DraftBar): readonly DraftStroke[] {
  const may = ({ piece, at }: DraftStroke) => piece !== 'kick' || bar.mayKick(at);
  const kicks = strokes.every(may) ? strokes : strokes.filter(may);
  return withoutPieces(supported(kicks, bar), bar.means);
}

/** Crashes have a kick or a snare below them: where there is none a kick comes in, or the crash goes. */
function supported(strokes: readonly DraftStroke[], bar: DraftBar): readonly DraftStroke[] {
  const alone = strokes.filter(
    (stroke) =>
      isCrash(stroke.piece) &&
      !stroke.time &&
      !strokes.some(
        ({ piece, at }) =>
          (piece === 'kick' || piece === 'snare') && Math.abs(at - stroke.at) < PPQ / 8,
      ),
  );
  const { kit } = bar.means;
  if (alone.length === 0 || !findPiece('kick', kit)) return strokes;
  const gone = new Set(alone.filter(({ at }) => !bar.mayKick(at)));
  const kicks = alone
    .filter((stroke) => !gone.has(stroke))
    .map(({ at, hit, says }): DraftStroke => {
      const kick = plainHit('kick', hit.velocity, kit, 'beater');
      return { piece: 'kick', at, hit: { ...kick, push: hit.push }, says };
    });
  return [...strokes.filter((stroke) => !gone.has(stroke)), ...kicks];
}

/** Turns that are no fills. */
export const QUIET_TURNS: readonly DraftTurnKind[] = TURN_KINDS.filter(
  (kind) => kind !== 'fill' && kind !== 'short fill',
);

/** Steps of energy from which a crash falls on the one of each eighth bar, and of each fourth. */
const CRASH_EIGHTH = 8;
const CRASH_FOURTH = 9;
/** Feels whose loudest mean is softer than this have no crashes in them. */
const LOUD_FEEL = 78;

/** How energy is heard in a bar besides its strokes: a crash on the one where energy is very high. */
function lifted({ plain, wished }: BarPlayed, bar: DraftBar): readonly DraftStroke[] {
  const { means, step, source } = bar;
  if (bar.bar === 0 || bar.bar % 4 !== 0) return wished;
  if (step < (bar.bar % 8 === 0 ? CRASH_EIGHTH : CRASH_FOURTH)) return wished;
  const piece = ['crash', 'crash-2'].find(hasPiece(means.kit, []));
  if (!piece || source.pool.loudness[1] < LOUD_FEEL) return wished;
  const first = (at: Ticks) => at < PPQ / 8;
  return [
    crashOn(piece, plain, means.kit, 'crash on 1: energy is very high'),
    ...wished.filter((stroke) => !(first(stroke.at) && (stroke.time || isCrash(stroke.piece)))),
  ];
}

/** A crash on the first beat of a bar, as loud as the loudest stroke of it. */
export function crashOn(
  piece: PieceId,
  bar: readonly DraftStroke[],
  kit: Kit,
  says: string,
): DraftStroke {
  const loudest = bar.reduce((most, { hit }) => Math.max(most, hit.velocity), 40);
  return { piece, at: 0, hit: plainHit(piece, loudest, kit), says };
}

/** The means of making phrases besides their bars. */
export interface PhraseMeans {
  /** For each piece that was rolled by itself, the bars as they fell then. */
  rolled: ReadonlyMap<PieceId, readonly DraftBar[]>;
  /** A fill for a bar of the place. */
  fill: (wanted: FillWanted, bar: number) => Pattern | undefined;
}

/**
 * The bars of a place as phrases of at most eight. Every fourth bar is a turn, unlike the one before; the last
 * bar of the section is none: what leads on from it depends on what comes. Phrases that would sound the same are one.
 */
export function phrasesOf(
  bars: readonly DraftBar[],
  { section, key, wishes }: DraftedSection,
  of: PhraseMeans,
): Phrase[] {
  const seed = chance(seedOf(wishes, 'turns'), key, 'turns') * 1e9;
  const phrases: Phrase[] = [];
  let before = '';
  for (let i = 0; i < bars.length;) {
    const { meter } = bars[i];
    let to = i + 1;
    while (to < bars.length && to - i < LONGEST_PHRASE && bars[to].meter === meter) {
      if (bars[to].bar !== bars[to - 1].bar + 1) break;
      to++;
    }
    const own = bars.slice(i, to);
    const [first, last] = [own[0], own.at(-1)!];
    const phrase = { from: first.start, to: last.start + barTicks(last.meter), bars: own };
    // What leads on from the last bar depends on what comes: it is no turn of an earlier phrase.
    const turnBefore = before;
    const known =
      last.bar < section.bars - 1
        ? phrases.find(
            (phrase) =>
              !phrase.as &&
              !phrase.fills &&
              alike(phrase.bars, own) &&
              signOfTurn(phrase, 0) !== turnBefore,
          )
        : undefined;
    if (known) {
      const { strokes, turns, fills } = known;
      phrases.push({ ...phrase, strokes, turns, fills, as: known });
      before = signOfTurn(known, -1) ?? before;
      i = to;
      continue;
    }
    const turns: number[] = [];
    let fills = false;
    const strokes = own.map((bar, n) => {
      const rolled = new Map(
        [...of.rolled].flatMap(([piece, list]) => (list[i + n] ? [[piece, list[i + n]]] : [])),
      );
      const played = playedBar(bar, rolled);
      const whole = finished(lifted(played, bar), bar);
      const ends = (n + 1) % 4 === 0 || n === own.length - 1;
      if (!ends || bar.bar === section.bars - 1) return whole;
      const eighth = n === LONGEST_PHRASE - 1;
      const often = wishes.fills === 'every 4' || wishes.fills === 'every 8';
      const kinds: readonly DraftTurnKind[] =
        wishes.fills === 'every 4' || (wishes.fills === 'every 8' && eighth)
          ? ['fill', 'short fill']
          : often
            ? [...QUIET_TURNS, 'short fill']
            : QUIET_TURNS;
      const means = turnMeans(bar, {
        seed: seed + n,
        longest: Math.min(wishes.longest, eighth ? 2 + (2 * bar.step) / STEPS : 2),
        of: `turn of bar ${bar.bar + 1}`,
        fill: (wanted) => of.fill(wanted, bar.bar),
        unlike: [before],
      });
      const both = { plain: played.plain, wished: lifted(played, bar) };
      const turned =
        turnOf(both, means, kinds, (list) => finished(list, bar)) ??
        turnOf(both, means, often ? TURN_KINDS : QUIET_TURNS, (list) => finished(list, bar));
      if (!turned) return whole;
      before = signOf(turned.strokes);
      turns.push(n);
      fills ||= turned.kind === 'fill' || turned.kind === 'short fill';
      return turned.strokes;
    });
    phrases.push({ ...phrase, strokes, turns, fills });
    i = to;
  }
  return phrases;
}

/** The sign of one of the turns of a phrase, -1 is the last; undefined where it has none. */
function signOfTurn({ strokes, turns }: Phrase, which: 0 | -1): string | undefined {
  const turn = turns.at(which);
  return turn === undefined ? undefined : signOf(strokes[turn]);
}

/** Whether bars would be played alike: from the same ladders, at the same energy. */
const alike = (a: readonly DraftBar[], b: readonly DraftBar[]): boolean =>
  a.length === b.length && a.every((bar, i) => bar.alike === b[i].alike);

/** A stroke of a drafted pattern, and why it is there. */
export interface Reasoned extends Written {
  id: string;
  says: string;
}

/** The name of a drafted stroke. @param bar of its pattern, from 0 @param at ticks from the start of the bar */
export const strokeId = (piece: PieceId, bar: number, at: Ticks) =>
  `${piece}@${bar + 1}-${Math.round(at)}`;

/** Whether a hit has the name that a draft gave it. */
export const isStrokeId = (id: string) => /@\d+-\d+/.test(id);

/** Strokes of a bar as they are written: their names say where they stand, so that drafting again names them the same. */
export function reasoned(strokes: readonly DraftStroke[], bar: number, start: Ticks): Reasoned[] {
  return strokes.map(({ piece, at, hit, says }) => ({
    piece,
    at: start + at,
    hit,
    says,
    id: strokeId(piece, bar, at),
  }));
}
