import {
  struckAs,
  type KitLayer,
  type PieceDesign,
  type SampleFile,
  type SampleHash,
  type SampleLayer,
  type SoundDesign,
} from '../model';
import type { Hertz, Velocity } from '../time';
import { filtered } from './biquad';
import { synthesise } from './kit';
import { gainOf, sharedVelocities, type KitSound, type Layer, type Zone } from './kitSound';
import { isPluck } from './pluck';
import { resampled } from './resample';

/** A decoded sound file at the rate that is played: one side or two. */
export interface Pcm {
  left: Float32Array;
  /** As long as the left; absent where there is one side only. */
  right?: Float32Array;
}

/** What is heard at some velocities: strokes that take turns, each of several layers. */
interface Part {
  velocities: readonly [Velocity, Velocity];
  alternates: readonly (readonly Layer[])[];
}

/** Sound of the piece's own at no damping rings so long, and at full damping, until it is 60 dB softer. */
const RINGS = [6, 0.04] as const;
/** What is softer than this share of the loudest at the end is cut off. */
const INAUDIBLE = 1e-5;

/**
 * The strokes of one sound of a kit, as its piece designs them.
 * @param files the sound files that its layers play; what is missing is silent
 */
export function designed(
  design: SoundDesign,
  rate: Hertz,
  files: ReadonlyMap<SampleHash, Pcm> = new Map(),
): KitSound {
  const { sound, character, instead, bare, layers = [] } = design;
  if (isPlain(design)) return synthesise(sound, rate, character);
  const own = bare
    ? undefined
    : synthesise(instead?.sound ?? sound, rate, instead?.character ?? character);
  const parts = [
    ...(own ? partsOf(own) : []),
    ...layers.flatMap((layer) =>
      layer.from === 'kit' ? kitParts(layer, rate) : fileParts(layer, rate, files),
    ),
  ].map((part) => shaped(part, design, rate));
  return {
    note: sound,
    zones: zonesOf(parts, design.alternates),
    ...(own?.varied && { varied: true }),
    ...(design.floor !== undefined || design.bend !== undefined
      ? { response: Float32Array.from({ length: 128 }, (_, v) => struckAs(Math.max(1, v), design)) }
      : {}),
  };
}

/** Whether a sound is as its kit has it. */
function isPlain({ sound, character: _, ...design }: SoundDesign): boolean {
  return Object.keys(design).length === 0 || isPluck(sound);
}

const partsOf = ({ zones }: KitSound): Part[] => zones.map((zone) => ({ ...zone }));

function kitParts(layer: KitLayer, rate: Hertz): Part[] {
  return partsOf(synthesise(layer.sound, rate, layer.character)).flatMap((part) => {
    const velocities = sharedVelocities(part.velocities, layer.velocities);
    if (!velocities) return [];
    const alternates = part.alternates.map((alternate) =>
      alternate.map((one) => changed(one, (samples) => tuned(samples, layer.tune, layer.level))),
    );
    return [{ velocities, alternates }];
  });
}

function fileParts(layer: SampleLayer, rate: Hertz, files: ReadonlyMap<SampleHash, Pcm>): Part[] {
  const ranges = new Map<string, SampleFile[]>();
  for (const file of layer.files) {
    const key = file.velocities.join();
    ranges.set(key, [...(ranges.get(key) ?? []), file]);
  }
  return [...ranges.values()].flatMap((together) => {
    const velocities = sharedVelocities(together[0].velocities, layer.velocities);
    if (!velocities) return [];
    const alternates = together.flatMap(({ hash }) => {
      const pcm = files.get(hash);
      return pcm ? [[layerOf(pcm, layer, rate)]] : [];
    });
    return alternates.length > 0 ? [{ velocities, alternates }] : [];
  });
}

/** A file as a layer plays it. */
function layerOf({ left, right }: Pcm, layer: SampleLayer, rate: Hertz): Layer {
  const { start, end = left.length, reverse, lowpass, decay, tune, level } = layer;
  const make = (side: Float32Array) => {
    let samples: Float32Array = side.slice(start, Math.max(start, end));
    if (reverse) samples.reverse();
    samples = tuned(samples, tune, level);
    if (lowpass !== undefined) {
      filtered(samples, { kind: 'lowpass', frequency: lowpass, q: 0.707 }, rate);
    }
    if (decay !== undefined) die(samples, decay, rate);
    fade(samples, Math.round(layer.fadeIn * rate), Math.round(layer.fadeOut * rate));
    return samples;
  };
  return { left: make(left), ...(right && { right: make(right) }), rate, curve: 'body' };
}

function changed(layer: Layer, make: (samples: Float32Array) => Float32Array): Layer {
  const { left, right } = layer;
  return { ...layer, left: make(left), ...(right && { right: make(right) }) };
}

/** Samples tuned by cents, so much louder; always a copy. */
function tuned(samples: Float32Array, cents: number, level: number): Float32Array {
  const out = cents === 0 ? samples.slice() : resampled(samples, 2 ** (cents / 1200));
  if (level !== 1) for (let i = 0; i < out.length; i++) out[i] *= level;
  return out;
}

/** Has samples die away, in place. */
function die(samples: Float32Array, seconds: number, rate: Hertz): void {
  const each = 10 ** (-3 / (seconds * rate));
  for (let i = 0, gain = 1; i < samples.length; i++, gain *= each) samples[i] *= gain;
}

function fade(samples: Float32Array, fadeIn: number, fadeOut: number): void {
  const { length } = samples;
  for (let i = 0; i < Math.min(fadeIn, length); i++) samples[i] *= i / fadeIn;
  for (let i = 0; i < Math.min(fadeOut, length); i++) samples[length - 1 - i] *= i / fadeOut;
}

/** What the piece does to every layer: tuning, damping, and how much edge there is. */
function shaped(part: Part, { tune = 0, damping = 0, edge = 0 }: PieceDesign, rate: Hertz): Part {
  if (tune === 0 && damping === 0 && edge === 0) return part;
  const [longest, shortest] = RINGS;
  const ring = longest * (shortest / longest) ** damping;
  const more = 10 ** (edge / 20);
  const make = (layer: Layer) =>
    changed(layer, (samples) => {
      const out = tuned(samples, tune, layer.curve === 'edge' ? more : 1);
      if (damping > 0) die(out, ring, rate);
      return damping > 0 ? trimmed(out) : out;
    });
  return { ...part, alternates: part.alternates.map((alternate) => alternate.map(make)) };
}

/** Without what cannot be heard at its end. */
function trimmed(samples: Float32Array): Float32Array {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  let end = samples.length;
  while (end > 1 && Math.abs(samples[end - 1]) < peak * INAUDIBLE) end--;
  return samples.slice(0, end);
}

/** Parts that overlap in velocity are heard together: a zone for each stretch in which they are the same. */
function zonesOf(parts: readonly Part[], most = Infinity): Zone[] {
  const starts = parts.flatMap(({ velocities: [from, to] }) => [from, to + 1]);
  const edges = [...new Set([1, 128, ...starts])].filter((v) => v >= 1 && v <= 128);
  edges.sort((a, b) => a - b);
  return edges.slice(0, -1).map((from, i): Zone => {
    const to = edges[i + 1] - 1;
    const heard = parts.filter(({ velocities }) => velocities[0] <= from && velocities[1] >= to);
    const turns = Math.min(most, Math.max(1, ...heard.map(({ alternates }) => alternates.length)));
    const alternates = Array.from({ length: turns }, (_, n) =>
      heard.flatMap(({ alternates: own }) => own[n % own.length]),
    );
    return { velocities: [from, to], alternates };
  });
}

/** What a stroke of a velocity has to be raised by to be heard as it was recorded. */
export function gainBack(velocity: Velocity): number {
  return 1 / gainOf({ left: NONE, rate: 1, curve: 'body' }, velocity);
}

const NONE = new Float32Array(0);
