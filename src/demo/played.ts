import { type Flam, type PatternKind, emptyPattern, type PieceId } from '@/core/model';
import type { Hit, Pattern } from '@/core';
import { placeHits, type StrandHit } from '@/core/pattern';
import { seeded } from '@/core/random';
import { type Meter, toVelocity, type Ticks } from '@/core/time';

/** Strengths 1 to 9 as velocities: ghosts below 4, backbeats 8, accents 9. */
const STRENGTHS = [0, 20, 30, 41, 54, 67, 80, 93, 107, 120];

/** How a drummer places the pieces against the beat, in ticks late (at 104 bpm a tick is 0.6 ms). */
const LEAN: Partial<Record<PieceId, Ticks>> = { snare: 9, hihat: -3, tambourine: 6, kick: 1 };

/** The hand strays by about so many ticks, and so many velocities. */
const STRAY_TICKS = 5;
const STRAY_VELOCITY = 4;

const FLAMS: Readonly<Record<string, Flam>> = {
  f: { strokes: 1, lead: 24, softness: 0.55 },
  d: { strokes: 2, lead: 56, softness: 0.6 },
};

export interface Part {
  id: string;
  name: string;
  kind?: PatternKind;
  dye: number;
  meter?: Meter;
  /** For fills that last less than a bar. */
  length?: Ticks;
  step?: Ticks;
  /**
   * One line for `piece` or `piece:articulation`: a digit is a hit of that strength, `f` a flam and
   * `d` a drag of strength 8, a dot is a rest, a bar line is only for the eye.
   */
  lines: Record<string, string>;
}

/** Writes a part as a drummer would play it: strengths, a lean for each piece, small strays. */
export function played(part: Part, seed: number): Pattern {
  const random = seeded(seed);
  const stray = () => random() + random() + random() - 1.5;
  const step = part.step ?? 240;
  const hits: StrandHit[] = [];
  let length = 0;
  for (const [key, line] of Object.entries(part.lines)) {
    const [piece, articulation = 'usual'] = key.split(':');
    const steps = line.replaceAll('|', '').replaceAll(' ', '');
    length = Math.max(length, steps.length * step);
    [...steps].forEach((character, i) => {
      if (character === '.') return;
      const flam = FLAMS[character];
      const strength = flam ? 8 : Number(character);
      const ghost = strength < 4 ? 4 : 0;
      const hit: Hit = {
        id: `${articulation[0]}${piece}-${i}`,
        at: i * step,
        push: Math.round((LEAN[piece] ?? 0) + ghost + stray() * STRAY_TICKS),
        velocity: toVelocity(STRENGTHS[strength] + stray() * STRAY_VELOCITY),
        articulation,
        ...(flam && { flam }),
      };
      hits.push({ piece, hit });
    });
  }
  const empty = emptyPattern({ id: part.id, name: part.name, kind: part.kind, meter: part.meter });
  const used = new Set(hits.map((hit) => hit.piece));
  const rows = empty.strands.filter(
    ({ piece }) => part.kind !== 'fill' || used.has(piece) || USUAL_IN_FILLS.has(piece),
  );
  return placeHits(
    { ...empty, strands: rows, length: part.length ?? length, step, dye: part.dye },
    hits,
  );
}

const USUAL_IN_FILLS = new Set<PieceId>(['crash', 'hihat', 'snare', 'kick']);
