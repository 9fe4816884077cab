import {
  type Swing,
  barTicks,
  isMeter,
  type Meter,
  STEP_RATES,
  PPQ,
  toVelocity,
  type Bpm,
} from '../time';
import { type PieceId, type Hit, type Pattern, SWING_LIMITS } from '../model';
import { mapStrands, setSwing, writeSwing } from '../pattern';
import { seeded, type Random } from '../random';
import { lineOfLabel, readSetting, readTab } from '../tab';

/** A file of the library: grooves of one feel, written as drum tablature with a head of its own. */
export interface FamilyFile {
  family: string;
  about: string;
  /** Other names of the feel, and styles that it is played in, as people look for it. */
  also: string;
  bpm: Bpm;
  patterns: Pattern[];
  /** What was not understood, a sentence each. */
  report: string[];
}

/** How far a drummer's hands stray around where they mean to be. */
const STRAY_MS = 3;
const STRAY_VELOCITY = 4;
/** Ghosts are dropped in a little late. */
const GHOST_LATE_MS = 2;

const HEAD = ['family', 'about', 'also', 'tempo', 'meter', 'lean', 'swing'];

/**
 * Reads a file of the library (docs/formats/library.md): a head, then blocks of tablature that each
 * begin with `name:`. Every groove is played as the head says: how many milliseconds a piece leans
 * behind the beat or before it, swing, and small strays that are the same every time it is read.
 * @param id a prefix for the ids of the patterns
 */
export function readFamily(text: string, id: string): FamilyFile {
  // Even a text that begins with a groove has a head: an empty one.
  const [head, ...blocks] = `\n${text}`.split(/^(?=name\s*:)/im);
  const report: string[] = [];
  const settings = new Map<string, string>();
  for (const row of head.split(/\r\n|\r|\n/)) {
    const setting = readSetting(row, HEAD);
    if (setting) settings.set(setting.name, setting.value);
    else if (row.trim() !== '') report.push(`“${row.trim().slice(0, 40)}” says nothing in a head.`);
  }
  const bpm = Number(settings.get('tempo') ?? 120);
  const meter = settings.get('meter') ?? '4/4';
  const lean = leanOf(settings.get('lean') ?? '', report);
  const swing = swingOf(settings.get('swing'), report);
  const taken = new Set<string>();
  const patterns = blocks.flatMap((block, index): Pattern[] => {
    const beats = Number(/^beats\s*:\s*([\d.]+)/im.exec(block)?.[1] ?? NaN);
    const own = /^meter\s*:\s*(\S+)/im.exec(block)?.[1] ?? meter;
    const body = padded(block.replace(/^beats\s*:.*$/im, ''), beats, own);
    const place = `${id}/${placeOf(block, taken)}`;
    const read = readTab(`meter: ${own}\n${body}`, { id: place });
    report.push(...read.report.map((sentence) => `${id}, block ${index + 1}: ${sentence}`));
    if (!read.pattern) return [];
    const whole = beats > 0 ? { ...read.pattern, length: Math.round(beats * PPQ) } : read.pattern;
    const swung = swing ? writeSwing(setSwing(whole, swing)) : whole;
    return [asPlayed(swung, bpm, lean, seeded(seedOf(place)))];
  });
  return {
    family: settings.get('family') ?? id,
    about: settings.get('about') ?? '',
    also: settings.get('also') ?? '',
    bpm: bpm >= 20 && bpm <= 400 ? bpm : 120,
    patterns,
    report,
  };
}

/** What a groove is found by: what its name says of it, so that it stays the same when others come. */
function placeOf(block: string, taken: Set<string>): string {
  const name = /^name\s*:\s*(.*)$/im.exec(block)?.[1] ?? '';
  const said = name.replace(/^[^:]*?(\b(?:fill|intro|ending))?(?: \d+)?:/i, '$1');
  const place =
    said
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu)
      ?.join('-') ?? 'groove';
  let free = place;
  for (let n = 2; taken.has(free); n++) free = `${place}-${n}`;
  taken.add(free);
  return free;
}

/** Fills that last a part of a bar are read as a bar of which the rest is silent. */
function padded(block: string, beats: number, meter: string): string {
  if (!(beats > 0)) return block;
  const match = /^(\d+)\/(\d+)$/.exec(meter);
  const counted: Meter = match
    ? { beats: Number(match[1]), unit: Number(match[2]) }
    : { beats: 4, unit: 4 };
  if (!isMeter(counted)) return block;
  const share = barTicks(counted) / (beats * PPQ);
  // What is not part of a bar is not padded either.
  if (share > 64) return block;
  return block.replace(/\|([^|\n]*)\|/g, (_, line: string) => {
    return `|${line.padEnd(Math.round(line.length * share), '-')}|`;
  });
}

/** "SD 7, HH -3": milliseconds late by piece. */
function leanOf(text: string, report: string[]): ReadonlyMap<PieceId, number> {
  const lean = new Map<PieceId, number>();
  for (const part of text.split(',').filter((word) => word.trim() !== '')) {
    const match = /^\s*(\S+)\s+([+-]?\d+(?:\.\d+)?)\s*$/.exec(part);
    const piece = match && lineOfLabel(match[1])?.piece;
    if (piece && Math.abs(Number(match[2])) <= 60) lean.set(piece, Number(match[2]));
    else report.push(`The lean “${part.trim()}” was not understood.`);
  }
  return lean;
}

/** "57 of 1/16": where the second of a pair of sixteenths falls, in percent. */
function swingOf(text: string | undefined, report: string[]): Swing | undefined {
  if (!text) return undefined;
  const match = /^(\d+(?:\.\d+)?) of (\S+)$/.exec(text);
  const unit = STEP_RATES.find(({ name }) => name === match?.[2])?.ticks;
  const percent = Number(match?.[1]);
  if (unit && percent >= SWING_LIMITS[0] && percent <= SWING_LIMITS[1]) return { percent, unit };
  report.push(`The swing “${text}” was not understood.`);
  return undefined;
}

function asPlayed(
  pattern: Pattern,
  bpm: Bpm,
  lean: ReadonlyMap<PieceId, number>,
  random: Random,
): Pattern {
  const ticksPerMs = (bpm * PPQ) / 60_000;
  // Machines have no hands: where no piece leans, nothing strays either.
  const hands = lean.size > 0 ? 1 : 0;
  const stray = () => ((random() + random() + random()) * 2) / 3 - 1;
  return mapStrands(pattern, ({ piece, hits }) =>
    hits.map((hit): Hit => {
      const late = (lean.get(piece) ?? 0) + (hit.velocity < 48 ? GHOST_LATE_MS : 0) * hands;
      const ms = late + stray() * STRAY_MS * hands;
      return {
        ...hit,
        push: hit.push + Math.round(ms * ticksPerMs),
        velocity: toVelocity(hit.velocity + stray() * STRAY_VELOCITY * hands),
      };
    }),
  );
}

function seedOf(text: string): number {
  let seed = 7;
  for (const character of text) seed = (Math.imul(seed, 31) + character.charCodeAt(0)) | 0;
  return seed >>> 0;
}
