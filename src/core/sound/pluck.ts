import type { SoundId } from '../model';
import type { Hertz } from '../time';
import { seeded } from '../random';

/** Sounds from here to the last one are plucked strings for guides; the others are the kit's. */
const FIRST_PLUCK: SoundId = 160;
/** The lowest note a plucked string is computed for; 96 notes lie above it. */
const LOWEST = 20;
const HIGHEST = LOWEST + 95;

const LAST_PLUCK: SoundId = FIRST_PLUCK + HIGHEST - LOWEST;

/** Whether a sound is that of a guide's string. */
export function isPluck(sound: SoundId): boolean {
  return sound >= FIRST_PLUCK && sound <= LAST_PLUCK;
}

/** The sound of a guide's note; notes out of reach are brought within by octaves. */
export function pluckOf(note: number): SoundId {
  let within = note;
  while (within < LOWEST) within += 12;
  while (within > HIGHEST) within -= 12;
  return FIRST_PLUCK + within - LOWEST;
}

/**
 * A plucked string: a burst of noise that runs round a delay line and loses its edge at each round.
 * Source: Karplus and Strong, "Digital Synthesis of Plucked-String and Drum Timbres", Computer Music
 * Journal 7:2, 1983; tuned with a fractional delay as in Jaffe and Smith of the same issue.
 */
export function pluckedString(sound: SoundId, sampleRate: Hertz): Float32Array {
  const note = LOWEST + sound - FIRST_PLUCK;
  const frequency = 440 * 2 ** ((note - 69) / 12);
  const random = seeded(note * 31 + 5);
  const period = sampleRate / frequency - 0.5;
  const whole = Math.floor(period);
  const share = period - whole;
  const line = Float32Array.from({ length: whole + 1 }, () => random() * 2 - 1);
  // A bass is plucked with the finger: the noise is softened before it starts.
  const rounds = note < 52 ? 4 : 2;
  for (let pass = 0; pass < rounds; pass++) {
    for (let i = line.length - 1; i > 0; i--) line[i] = (line[i] + line[i - 1]) / 2;
  }
  const samples = new Float32Array(Math.round(sampleRate * 3));
  const loss = 0.5 ** (1 / (frequency * 1.1));
  let at = 0;
  for (let i = 0; i < samples.length; i++) {
    const next = (at + 1) % line.length;
    const out = line[at] * (1 - share) + line[next] * share;
    samples[i] = out;
    line[at] = loss * 0.5 * (line[at] + line[next]);
    at = next;
  }
  let peak = 1e-9;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  return samples.map((sample) => (0.5 * sample) / peak);
}
