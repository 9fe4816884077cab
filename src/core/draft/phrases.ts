import {
  drummerOf,
  findPiece,
  type DraftWishes,
  type PieceId,
  type Section,
  type Song,
} from '../model';
import { leftOutBy, strokeReader } from '../playing';
import { chance } from '../random';
import { barTicks, ticksOfBars, type Bpm, type Meter, type Ticks } from '../time';
import type { LaidPlace, TimedHit } from '../weave';
import { barOf, isMachine, wishedLadder, type BarMeans, type DraftStroke } from './bar';
import { meanLevel, type EnergyLine } from './energy';
import { guidedLadder, type GuidedBar } from './guided';
import { ladderOf, type Rung } from './ladder';
import { hasPiece } from './onKit';
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

/** A bar of a section, ready to be played at any energy. */
export interface DraftBar {
  /** Counted from the start of the section. */
  bar: number;
  /** Ticks from the start of the section. */
  start: Ticks;
  meter: Meter;
  source: Source;
  ladder: readonly Rung[];
  means: BarMeans;
  /** The mean of its places. */
  energy: number;
}

/** Some bars of a section that are one pattern. */
export interface Phrase {
  from: Ticks;
  to: Ticks;
  bars: readonly DraftBar[];
  strokes: readonly (readonly DraftStroke[])[];
  /** Bars of it that are turns, counted from 0. */
  turns: readonly number[];
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

/** The bars of a section with what each may play. What could not be had is added to `says`. */
export function barsToDraft(
  { section, key, places, wishes, bpm }: DraftedSection,
  { song, library, guide }: SongMeans,
  says: Set<string>,
): DraftBar[] {
  const seed = Math.floor(chance(wishes.seed, key) * 1e9);
  const has = hasPiece(song.kit, wishes.without);
  for (const piece of [wishes.time, wishes.highTime]) {
    if (piece === undefined || piece === 'feel' || has(piece)) continue;
    const name = findPiece(piece, song.kit)?.name.toLowerCase() ?? `“${piece}”`;
    says.add(`There is no ${name} to keep time with: it is kept as the feel has it.`);
  }
  const sources = new Map<string, Source | undefined>();
  const playable = playableLadders(song, places[0].laid.start);
  const ladders = new Map<string, readonly Rung[]>();
  const bars: DraftBar[] = [];
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
    };
    const start = ticksOfBars(section.meters, bar);
    const end = start + barTicks(meter);
    const round = Math.max(1, Math.round(source.groove.length / barTicks(meter)));
    const own = (bar - inMeter) % round;
    const guided = guidedBar(places, guide, start, end);
    const heard = guided ? guided.onsets.map(({ at, share }) => `${at}/${share}`).join() : '';
    const id = `${name} ${own} ${heard}`;
    let ladder = ladders.get(id);
    if (!ladder) {
      const plain = wishedLadder(ladderOf(source.groove, own, source.pool, means), means);
      const with_ = guided
        ? guidedLadder(plain, guided, wishes.follow, { ...means, pool: source.pool })
        : plain;
      ladder = playable(with_, meter);
      ladders.set(id, ladder);
    }
    const levels = places.map(({ line }) => meanLevel(line.points, start, end));
    const energy = levels.reduce((sum, level) => sum + level, 0) / levels.length;
    bars.push({ bar, start, meter, source, ladder, means, energy });
  }
  return bars;
}

/** What a guide plays in a bar of a section, over all its places; undefined where it is silent. */
function guidedBar(
  places: DraftedSection['places'],
  guide: GuideReader,
  start: Ticks,
  end: Ticks,
): GuidedBar | undefined {
  const counts = new Map<number, number>();
  let name = '';
  let sounding = 0;
  for (const { laid } of places) {
    const heard = guide(laid.start + start, laid.start + end);
    if (heard.onsets.length === 0) continue;
    sounding++;
    name ||= heard.name;
    for (const at of heard.onsets) {
      // What is written to a few ticks is one note.
      const near = [...counts.keys()].find((other) => Math.abs(other - at) <= 40);
      counts.set(near ?? at, (counts.get(near ?? at) ?? 0) + 1);
    }
  }
  if (sounding === 0) return undefined;
  const onsets = [...counts]
    .map(([at, count]) => ({ at, share: count / sounding }))
    .sort((a, b) => a.at - b.at);
  return { name, onsets };
}

/** Leaves out what no drummer could play in a bar that comes round: of any part of the rest all can be played. */
export function playableLadders(
  song: Song,
  start: Ticks,
): (ladder: readonly Rung[], meter: Meter) => readonly Rung[] {
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

/** What a bar plays at some energy, with the pieces that were rolled by themselves as they fell. */
export function strokesOf(
  bar: DraftBar,
  energy: number,
  rolled: ReadonlyMap<PieceId, DraftBar>,
): DraftStroke[] {
  const name = String(bar.bar);
  const base = barOf(bar.ladder, energy, name, bar.means);
  if (rolled.size === 0) return base;
  const others = [...rolled].flatMap(([piece, other]) =>
    barOf(other.ladder, energy, name, other.means).filter((stroke) => stroke.piece === piece),
  );
  return [...base.filter(({ piece }) => !rolled.has(piece)), ...others];
}

/** What a turn of a bar is made with. */
export function turnMeans(
  { source, means, bar }: DraftBar,
  energy: number,
  { seed, longest, of }: Pick<TurnMeans, 'seed' | 'longest' | 'of'>,
): TurnMeans {
  return {
    pool: source.pool,
    kit: means.kit,
    meter: means.meter,
    has: hasPiece(means.kit, means.wishes.without),
    seed: Math.floor(chance(seed, 'turn', bar) * 1e9),
    energy,
    longest,
    of,
  };
}

/** Turns that are no fills. */
export const QUIET_TURNS: readonly DraftTurnKind[] = TURN_KINDS.filter(
  (kind) => kind !== 'fill' && kind !== 'short fill',
);

/** How close two energies sound the same. */
const SAME_ENERGY = 0.03;

/**
 * The bars of a section as phrases of at most eight. Every fourth bar is a turn, unlike the one before; the last
 * bar of the section is none: what leads on from it depends on what comes. Phrases that would sound the same are one.
 */
export function phrasesOf(
  bars: readonly DraftBar[],
  { section, key, wishes }: DraftedSection,
  rolledBars: ReadonlyMap<PieceId, readonly DraftBar[]>,
): Phrase[] {
  const seed = chance(seedOf(wishes, 'turns'), key, 'turns') * 1e9;
  const phrases: Phrase[] = [];
  let before = '';
  for (let i = 0; i < bars.length;) {
    const { meter } = bars[i];
    let to = i + 1;
    while (to < bars.length && to - i < LONGEST_PHRASE && bars[to].means.meter === meter) {
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
              !phrase.as && alike(phrase.bars, own) && signOfTurn(phrase, 0) !== turnBefore,
          )
        : undefined;
    if (known) {
      phrases.push({ ...phrase, strokes: known.strokes, turns: known.turns, as: known });
      before = signOfTurn(known, -1) ?? before;
      i = to;
      continue;
    }
    const turns: number[] = [];
    const strokes = own.map((bar, n) => {
      const rolled = new Map(
        [...rolledBars].flatMap(([piece, list]) => (list[i + n] ? [[piece, list[i + n]]] : [])),
      );
      const played = strokesOf(bar, bar.energy, rolled);
      const ends = (n + 1) % 4 === 0 || n === own.length - 1;
      if (!ends || bar.bar === section.bars - 1) return played;
      const eighth = n === LONGEST_PHRASE - 1;
      const fill = wishes.fills === 'every 4' || (wishes.fills === 'every 8' && eighth);
      const kinds: readonly DraftTurnKind[] = fill
        ? ['fill', 'short fill']
        : wishes.fills === 'every 4' || wishes.fills === 'every 8'
          ? [...QUIET_TURNS, 'short fill']
          : QUIET_TURNS;
      const means = turnMeans(bar, bar.energy, {
        seed: seed + n,
        longest: Math.min(wishes.longest, eighth ? 2 + 2 * bar.energy : 2),
        of: `turn of bar ${bar.bar + 1}`,
      });
      const turned =
        turnOf(played, means, kinds, [before]) ?? turnOf(played, means, TURN_KINDS, [before]);
      if (!turned) return played;
      before = signOf(turned.strokes);
      turns.push(n);
      return turned.strokes;
    });
    phrases.push({ ...phrase, strokes, turns });
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
function alike(a: readonly DraftBar[], b: readonly DraftBar[]): boolean {
  return (
    a.length === b.length &&
    a.every(
      (bar, i) => bar.ladder === b[i].ladder && Math.abs(bar.energy - b[i].energy) < SAME_ENERGY,
    )
  );
}

/** A stroke of a drafted pattern, and why it is there. */
export interface Reasoned extends Written {
  id: string;
  says: string;
}

/** Strokes of a bar as they are written: their names say where they stand, so that drafting again names them the same. */
export function reasoned(strokes: readonly DraftStroke[], bar: number, start: Ticks): Reasoned[] {
  return strokes.map(({ piece, at, hit, says }) => ({
    piece,
    at: start + at,
    hit,
    says,
    id: `${piece}@${bar + 1}-${Math.round(at)}`,
  }));
}
