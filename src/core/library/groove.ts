import { PATTERN_KINDS, type Pattern, type PatternKind } from '../model';
import { isNoteMapChoice, type NoteMapChoice } from '../midi';
import { isMeter, type Bpm, type Meter } from '../time';
import { featuresOf, guessKind, type Features } from './features';
import { FINGERPRINT_SIZE, fingerprintOf, type Fingerprint } from './fingerprint';
import { heavyOf, isHeavy, type Heavy } from './heavy';
import { strokesOfPattern, type Strokes } from './strokes';

/** A row of the library: what is known of a groove, without its hits. */
export interface Groove extends Features {
  /** Where it is found: `shipped/…` or `own/…`. */
  id: string;
  name: string;
  family: string;
  kind: PatternKind;
  meter: Meter;
  bpm: Bpm;
  /** It has bars of other meters, too: `meter` is that of its start. */
  otherMeters?: true;
  /** Pulses a quarter note of the file it comes from; absent for text. */
  ppq?: number;
  /** The note map it is read through, where that is not plain General MIDI or was chosen. */
  through?: NoteMapChoice;
  print: Fingerprint;
  /** Other names of its family, and styles that it is played in. */
  also?: string;
  /** What it is tagged with, for one's own patterns. */
  tags?: string[];
  /** Its kicks and accents; absent in rows that were stored before there was a use for them. */
  heavy?: Heavy;
  /** Grooves with the same hits have the same number, whatever they are called. */
  identity: string;
}

const isText = (value: unknown) => typeof value === 'string';
const isNumber = (value: unknown, least = -Infinity) =>
  typeof value === 'number' && Number.isFinite(value) && value >= least;

/**
 * Whether a value is a row of the library: it may have been stored by another version, or damaged.
 * Written by hand, because tens of thousands are looked at before a list is shown.
 */
export function isGroove(value: unknown): value is Groove {
  if (typeof value !== 'object' || value === null) return false;
  const row = value as Partial<Record<keyof Groove, unknown>>;
  return (
    [row.id, row.name, row.family, row.identity].every(isText) &&
    PATTERN_KINDS.includes(row.kind as PatternKind) &&
    isMeter((row.meter ?? {}) as Meter) &&
    [row.bpm, row.bars].every((number) => isNumber(number, 1e-3)) &&
    [row.hits, row.perBeat].every((number) => isNumber(number, 0)) &&
    [row.busyness, row.swing].every((number) => isNumber(number)) &&
    Array.isArray(row.pieces) &&
    row.pieces.every(isText) &&
    typeof row.push === 'object' &&
    row.push !== null &&
    Object.values(row.push).every((number) => isNumber(number)) &&
    row.print instanceof Uint8Array &&
    row.print.length === FINGERPRINT_SIZE &&
    (row.otherMeters === undefined || row.otherMeters === true) &&
    (row.also === undefined || isText(row.also)) &&
    (row.tags === undefined || (Array.isArray(row.tags) && row.tags.every(isText))) &&
    (row.heavy === undefined || isHeavy(row.heavy)) &&
    (row.through === undefined || isNoteMapChoice(row.through))
  );
}

/** Everything that is kept of strokes: features, fingerprint and identity. */
export function grooveOfStrokes(
  strokes: Strokes,
  head: Pick<Groove, 'id' | 'name' | 'family'> & { kind?: PatternKind; ppq?: number },
): Groove {
  const features = featuresOf(strokes);
  const { meter, bpm } = strokes;
  const { bars, hits, pieces, perBeat, busyness, swing, push } = features;
  const groove: Groove = {
    id: head.id,
    name: head.name,
    family: head.family,
    kind: head.kind ?? guessKind(head.name, features, meter),
    meter,
    bpm,
    bars,
    hits,
    pieces,
    perBeat,
    busyness,
    swing,
    push,
    print: fingerprintOf(strokes),
    heavy: heavyOf(strokes),
    identity: identityOf(strokes),
  };
  if (head.ppq) groove.ppq = head.ppq;
  return groove;
}

export function grooveOfPattern(
  pattern: Pattern,
  bpm: Bpm,
  head: Pick<Groove, 'id' | 'family'>,
): Groove {
  const { name, kind } = pattern;
  return grooveOfStrokes(strokesOfPattern(pattern, bpm), { ...head, name, kind });
}

const FNV_PRIME = 0x01000193;
/** Keeps the second hash apart from the first. */
const APART = 0x9e37;
const fnv = (hash: number, value: number) => Math.imul(hash ^ value, FNV_PRIME);
let order = new Uint32Array(1024);

/**
 * A number for the hits of a groove: two grooves share it when the same pieces are struck at the same
 * ticks with the same velocities. Two FNV-1a hashes of 32 bits with different starts, taking whole
 * numbers where the original takes bytes.
 * Source: Fowler, Noll, Vo, "The FNV Non-Cryptographic Hash Algorithm".
 */
export function identityOf({ count, at, piece, velocity, length }: Strokes): string {
  let a = fnv(0x811c9dc5, Math.round(length));
  let b = fnv(FNV_PRIME, Math.round(length) + APART);
  if (order.length < count) order = new Uint32Array(count);
  for (let n = 0; n < count; n++) {
    // They come in order of time: only strokes of one moment have to be put in order of their pieces.
    let place = n;
    for (; place > 0; place--) {
      const before = order[place - 1];
      if (at[before] < at[n] || (at[before] === at[n] && piece[before] <= piece[n])) break;
      order[place] = before;
    }
    order[place] = n;
  }
  for (let n = 0; n < count; n++) {
    const i = order[n];
    const tick = Math.round(at[i] * 4) | 0;
    const struck = piece[i] * 128 + velocity[i];
    a = fnv(fnv(a, tick), struck);
    b = fnv(fnv(b, tick + APART), struck + APART);
  }
  return `${(a >>> 0).toString(36)}${(b >>> 0).toString(36)}`;
}
