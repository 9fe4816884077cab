import type { PieceId, PatternKind } from '../model';
import { meterName } from '../time';
import { nearest } from './fingerprint';
import type { Groove } from './groove';
import type { Group } from './strokes';

/** What a groove must be to be listed. Absent is "whatever". */
export interface Filter {
  /** Words that all occur in its name, its family and what that is also called, its kind, meter or pieces. */
  text?: string;
  family?: string;
  kind?: PatternKind;
  meter?: string;
  bars?: readonly [low: number, high: number];
  bpm?: readonly [low: number, high: number];
  busyness?: readonly [low: number, high: number];
  swing?: readonly [low: number, high: number];
  /** Strokes a quarter note. */
  perBeat?: readonly [low: number, high: number];
  /** Milliseconds that a strand comes late on average: any of it, or one of those it must use. */
  push?: readonly [low: number, high: number];
  /** Pulses a quarter note of its file; 0 is none, as for text. */
  ppq?: number;
  /** Pieces it must use, and pieces it must not. */
  uses?: readonly PieceId[];
  lacks?: readonly PieceId[];
  /** At least so many stars; stars are kept beside the library. */
  stars?: number;
}

/** The orders of a list. `plain` has the families first that most songs begin with. */
export const SORTS = [
  'plain',
  'name',
  'family',
  'kind',
  'meter',
  'bars',
  'bpm',
  'perBeat',
  'busyness',
  'swing',
  'stars',
  'fit',
] as const;
export type SortBy = (typeof SORTS)[number];

/** What the user noted about grooves, by their ids. */
export interface Remarks {
  stars(id: string): number;
  note(id: string): string;
}

const within = (value: number, range?: readonly [number, number]) =>
  !range || (value >= range[0] && value <= range[1]);

/** Whether a groove passes a filter. */
export function passes(groove: Groove, filter: Filter, remarks: Remarks): boolean {
  const { family, kind, meter, uses, lacks, stars } = filter;
  if (family && groove.family !== family) return false;
  if (kind && groove.kind !== kind) return false;
  if (meter && meterName(groove.meter) !== meter) return false;
  if (!within(groove.bars, filter.bars) || !isAtTempo(groove.bpm, filter.bpm)) return false;
  if (!within(groove.busyness, filter.busyness) || !within(groove.swing, filter.swing))
    return false;
  if (!within(groove.perBeat, filter.perBeat)) return false;
  if (filter.ppq !== undefined && (groove.ppq ?? 0) !== filter.ppq) return false;
  if (filter.push && !pushesOf(groove, uses).some((ms) => within(ms, filter.push))) return false;
  if (uses?.some((piece) => !groove.pieces.includes(piece))) return false;
  if (lacks?.some((piece) => groove.pieces.includes(piece))) return false;
  if (stars && remarks.stars(groove.id) < stars) return false;
  const { words, bpm } = asked(filter.text ?? '');
  if (bpm && !isAtTempo(groove.bpm, [bpm * (1 - NEAR_TEMPO), bpm * (1 + NEAR_TEMPO)])) return false;
  if (words.length === 0) return true;
  const said = `${saidOf(groove).all} ${plain(remarks.note(groove.id))}`;
  return words.every((word) => said.includes(word));
}

/** So near to a tempo that is asked for in words a groove must be. */
const NEAR_TEMPO = 0.06;

/** What is asked for in words: "half-time near 140 bpm" is a word and a tempo, and so is "140". */
function asked(text: string): { words: string[]; bpm?: number } {
  const tempo =
    /(?:\b(?:near|at|about) )?\b(\d{2,3}) ?bpm\b/i.exec(text) ??
    /(?:^|\s)(?:near |at |about )?([4-9]\d|[1-3]\d\d)(?=\s|$)/i.exec(text);
  if (!tempo) return { words: wordsOf(text) };
  return { words: wordsOf(text.replace(tempo[0], ' ')), bpm: Number(tempo[1]) };
}

/** Whether a groove can be played at a tempo: as it is, or counted in half or double time. */
function isAtTempo(bpm: number, range?: readonly [number, number]): boolean {
  return [1, 2, 0.5].some((factor) => within(bpm * factor, range));
}

/** A text as it is searched: "Hi-Hat" and "hihat" are the same. */
const plain = (text: string) =>
  text
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f‐’'-]/g, '');

/** The words that are searched for; "hats" finds a hat. */
function wordsOf(text: string): string[] {
  return plain(text)
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => (/^[a-z]{3,}s$/.test(word) && !word.endsWith('ss') ? word.slice(0, -1) : word));
}

/**
 * How well a groove is what is asked for, the best first: its name before its family, that before other words, and of
 * equal ones those in four before those in other meters. Words that begin a word count for more.
 */
function rankOf(groove: Groove, words: readonly string[], text: string): number {
  const { name, family } = saidOf(groove);
  const begins = (said: string, word: string) => ` ${said}`.includes(` ${word}`);
  let rank = name.includes(text) ? 0 : family.includes(text) ? 1 : 2;
  for (const word of words) {
    rank += begins(name, word) ? 0 : name.includes(word) ? 1 : begins(family, word) ? 2 : 4;
  }
  const plainMeter = groove.meter.beats === 4 && groove.meter.unit === 4;
  // A meter that is asked for is meant.
  return 4 * rank + (plainMeter || words.some((word) => /\d\/\d/.test(word)) ? 0 : 1);
}

/** Those that are best what the words ask for come first; of equal ones the order stays. */
export function bestFirst(grooves: readonly Groove[], text: string | undefined): readonly Groove[] {
  const { words } = asked(text ?? '');
  if (words.length === 0) return grooves;
  const whole = plain(text ?? '').trim();
  return grooves
    .map((groove, i) => ({ groove, i, rank: rankOf(groove, words, whole) }))
    .sort((a, b) => a.rank - b.rank || a.i - b.i)
    .map(({ groove }) => groove);
}

/**
 * Grooves that have something of what was asked for where none has all of it: the most words first, then words that
 * begin alike.
 */
export function nearestTo(grooves: readonly Groove[], text: string): readonly Groove[] {
  const { words } = asked(text);
  const found = grooves
    .map((groove, i) => {
      const { all: said } = saidOf(groove);
      const met = words.reduce(
        (sum, word) =>
          sum + (said.includes(word) ? 2 : said.includes(word.slice(0, START)) ? 1 : 0),
        0,
      );
      return { groove, i, met };
    })
    .filter(({ met }) => met > 0);
  return found.sort((a, b) => b.met - a.met || a.i - b.i).map(({ groove }) => groove);
}

/** Words whose first four letters agree may be meant. */
const START = 4;

function pushesOf({ push }: Groove, pieces: readonly PieceId[] = []): number[] {
  if (pieces.length === 0) return Object.values(push) as number[];
  return pieces.flatMap((piece) => push[piece] ?? []);
}

/** The words of a groove, as they are searched. */
interface Said {
  name: string;
  family: string;
  all: string;
}

const texts = new WeakMap<Groove, Said>();
function saidOf(groove: Groove): Said {
  let text = texts.get(groove);
  if (text === undefined) {
    const { kind, meter, pieces, tags = [], also = '' } = groove;
    const [name, family] = [plain(groove.name), plain(groove.family)];
    const words = [kind, meterName(meter), ...pieces, ...tags, also];
    text = { name, family, all: `${name} ${family} ${plain(words.join(' '))}` };
    texts.set(groove, text);
  }
  return text;
}

/** The families that most songs begin with, in the order in which a list that was not sorted has them. */
const PLAIN_FAMILIES: readonly string[] = [
  'Straight rock',
  'Four on the floor',
  'Half-time',
  'Shuffle',
  'Funk with ghosts',
  'Disco',
  'Ballad in six',
];

/** A column to sort by, with what is not in the rows themselves. */
export interface Order {
  by: SortBy;
  down: boolean;
  stars(id: string): number;
  fit(id: string): number;
}

function keyOf(groove: Groove, { by, stars, fit }: Order): number | string {
  if (by === 'stars') return stars(groove.id);
  if (by === 'fit') return fit(groove.id);
  if (by === 'plain') {
    const rank = PLAIN_FAMILIES.indexOf(groove.family);
    return rank < 0 ? `9${inOrder(groove.family)}` : `${rank}`;
  }
  if (by === 'meter') return groove.meter.beats / groove.meter.unit;
  const value = groove[by];
  return typeof value === 'string' ? inOrder(value) : value;
}

/** The grooves in order of a column; of equal ones the order of the library. */
export function sorted(grooves: readonly Groove[], order: Order): Groove[] {
  const { down } = order;
  const keyed = grooves.map((groove, index) => ({ groove, index, key: keyOf(groove, order) }));
  keyed.sort((a, b) => {
    const way = a.key < b.key ? -1 : a.key > b.key ? 1 : 0;
    return (down ? -way : way) || a.index - b.index;
  });
  return keyed.map(({ groove }) => groove);
}

/**
 * What `sorted` gives of all, when a part of them is in order already and the others come behind it
 * in the library: in far less time where the others are few.
 */
export function sortedIn(
  before: readonly Groove[],
  others: readonly Groove[],
  order: Order,
): Groove[] {
  const fresh = sorted(others, order);
  const keys = fresh.map((groove) => keyOf(groove, order));
  const merged: Groove[] = [];
  let next = 0;
  for (const groove of before) {
    const key = keyOf(groove, order);
    while (next < fresh.length && (order.down ? keys[next] > key : keys[next] < key)) {
      merged.push(fresh[next++]);
    }
    merged.push(groove);
  }
  return merged.concat(fresh.slice(next));
}

const orders = new Map<string, string>();

/** A name as it is put in order: "beat 2" before "beat 10". */
function inOrder(name: string): string {
  let order = orders.get(name);
  if (order === undefined) {
    if (orders.size > 100_000) orders.clear();
    order = name.toLowerCase().replace(/\d+/g, (digits) => digits.padStart(6, '0'));
    orders.set(name, order);
  }
  return order;
}

/** The grooves that are most like one, itself left out. */
export function like(
  one: Groove,
  grooves: readonly Groove[],
  groups: readonly Group[] = [],
  limit = grooves.length,
): Groove[] {
  const others = grooves.filter(({ id }) => id !== one.id);
  const found = nearest(
    one.print,
    others.map(({ print }) => print),
    groups,
    limit,
  );
  return found.map(({ index }) => others[index]);
}
