import type { SoundId } from '../model';
import type { Hertz, Velocity } from '../time';

/** Samples that are heard together with those of other layers as one stroke. */
export interface Layer {
  left: Float32Array;
  /** The other side, as long as the left; absent where both are the same. */
  right?: Float32Array;
  /** The rate it was computed or recorded at. */
  rate: Hertz;
  /** How it follows the velocity: the edge comes in with hard strokes only. */
  curve: 'body' | 'edge';
}

/** What is heard of a sound at some velocities: a stroke is one of the alternates, all its layers. */
export interface Zone {
  velocities: readonly [softest: Velocity, hardest: Velocity];
  alternates: readonly (readonly Layer[])[];
}

/** One way of striking one piece, ready to be played. */
export interface KitSound {
  note: SoundId;
  /** From soft to hard; together they are all velocities. */
  zones: readonly Zone[];
  /** Whether its strokes stray a little from each other in level and edge, as those of a drummer do. */
  varied?: true;
  /** Which velocity a stroke of each velocity is struck with; absent is its own. */
  response?: Float32Array;
}

/** A sound that is the same at all velocities, but for its loudness and edge. */
export function oneZone(note: SoundId, alternates: readonly (readonly Layer[])[]): KitSound {
  return { note, zones: [{ velocities: [1, 127], alternates }] };
}

export function bodyOf(left: Float32Array, rate: Hertz): Layer {
  return { left, rate, curve: 'body' };
}

/** All sample arrays of a sound, for handing them to another thread. */
export function buffersOf({ zones }: KitSound): ArrayBuffer[] {
  const layers = zones.flatMap(({ alternates }) => alternates.flat());
  const arrays = layers.flatMap(({ left, right }) => (right ? [left, right] : [left]));
  return [...new Set(arrays.map(({ buffer }) => buffer as ArrayBuffer))];
}

/** How loud a layer of a stroke is at a velocity, as a factor. */
export function gainOf({ curve }: Layer, velocity: Velocity): number {
  const level = loudness(velocity);
  return curve === 'edge' ? level * brightness(velocity) : level;
}

/**
 * Level of the body for a velocity.
 * Source: the square law that General MIDI 2 recommends (40 log10(v / 127) dB), a little flatter
 * so that ghost notes stay audible beside accents.
 */
function loudness(velocity: Velocity): number {
  return (velocity / 127) ** 1.7;
}

/** Share of the edge layer: none in the softest strokes, all of it in the hardest. */
function brightness(velocity: Velocity): number {
  return (velocity / 127) ** 1.8;
}

/** The velocities that two ranges share; undefined where they share none. */
export function sharedVelocities(
  a: readonly Velocity[],
  b: readonly Velocity[],
): [softest: Velocity, hardest: Velocity] | undefined {
  const both: [Velocity, Velocity] = [Math.max(a[0], b[0]), Math.min(a[1], b[1])];
  return both[0] <= both[1] ? both : undefined;
}
