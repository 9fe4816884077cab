import type { SampleHash, SoundDesign } from '../model';
import { designed, oneZone, type KitSound, type Layer, type Pcm } from '../sound';
import type { Hertz, Seconds } from '../time';
import { swellOf } from '../model';
import { BLOCK } from './block';
import { LONGEST_SWELL } from './score';
import { Room } from './sends';

/** How loud a swell comes to be, beside the stroke it leads up to. */
const SHARE = 0.7;

/**
 * The strokes of one sound of a kit, as its piece designs them; a swell with its room.
 * @param files the sound files that its layers play; what is missing is silent
 */
export function made(
  design: SoundDesign,
  rate: Hertz,
  files?: ReadonlyMap<SampleHash, Pcm>,
): KitSound {
  const { swell, ...plain } = design;
  const sound = designed(plain, rate, files);
  return swell === undefined ? sound : inRoom(sound, swell, rate);
}

/** The hardest stroke of a sound with the room that hears it, from its beginning on. */
function inRoom({ note, zones }: KitSound, ring: Seconds, rate: Hertz): KitSound {
  const layers = zones.at(-1)?.alternates[0] ?? [];
  const length = Math.ceil((LONGEST_SWELL * rate) / BLOCK) * BLOCK;
  const left = summed(layers, 'left', length, rate);
  const right = summed(layers, 'right', length, rate);
  const room = new Room(rate, ring);
  const peak = highest(left, right);
  for (let at = 0; at < length; at += BLOCK) {
    const [dryLeft, dryRight] = [left, right].map((side) => side.subarray(at, at + BLOCK));
    room.input[0].set(dryLeft);
    room.input[1].set(dryRight);
    room.wake();
    room.mixTo(dryLeft, dryRight, BLOCK);
  }
  const now = highest(left, right);
  const gain = now > 0 ? (SHARE * peak) / now : 1;
  for (const side of [left, right]) for (let i = 0; i < length; i++) side[i] *= gain;
  return oneZone(swellOf(note), [[{ left, right, rate, curve: 'body' }]]);
}

/** One side of layers that sound together, at one rate. */
function summed(
  layers: readonly Layer[],
  side: 'left' | 'right',
  length: number,
  rate: Hertz,
): Float32Array {
  const out = new Float32Array(length);
  for (const layer of layers) {
    const samples = layer[side] ?? layer.left;
    const step = layer.rate / rate;
    const end = Math.min(length, Math.floor(samples.length / step));
    for (let i = 0; i < end; i++) {
      const at = i * step;
      const whole = Math.floor(at);
      const next = samples[whole + 1] ?? 0;
      out[i] += samples[whole] + (next - samples[whole]) * (at - whole);
    }
  }
  return out;
}

function highest(...sides: readonly Float32Array[]): number {
  let peak = 0;
  for (const side of sides) for (const sample of side) peak = Math.max(peak, Math.abs(sample));
  return peak;
}
