import type { Pattern, PatternKind } from '../model/song';
import type { Meter } from '../time/meter';
import type { Bpm } from '../time/units';
import { featuresOf, guessKind, type Features } from './features';
import { fingerprintOf, type Fingerprint } from './fingerprint';
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
  /** Pulses a quarter note of the file it comes from; absent for text. */
  ppq?: number;
  print: Fingerprint;
  /** Grooves with the same hits have the same number, whatever they are called. */
  identity: string;
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

/**
 * A number for the hits of a groove: two grooves share it when the same pieces are struck at the same
 * ticks with the same velocities. Two FNV-1a hashes of 32 bits with different starts.
 * Source: Fowler, Noll, Vo, "The FNV Non-Cryptographic Hash Algorithm".
 */
export function identityOf({ count, at, piece, velocity, length }: Strokes): string {
  let [a, b] = [0x811c9dc5, 0x01000193];
  const take = (value: number) => {
    a = Math.imul(a ^ value, 0x01000193);
    b = Math.imul(b ^ (value + 0x9e37), 0x01000193);
  };
  take(Math.round(length));
  const order = new Uint32Array(count);
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
    const tick = Math.round(at[i] * 4);
    take(tick & 0xffff);
    take(tick >> 16);
    take(piece[i] * 128 + velocity[i]);
  }
  return `${(a >>> 0).toString(36)}${(b >>> 0).toString(36)}`;
}
