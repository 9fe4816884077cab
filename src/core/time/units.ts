/** Pulses per quarter note inside a song. Fixed, so that a tick means the same in every pattern. */
export const PPQ = 960;

/** Musical time: 960 to a quarter note. May be fractional where a source had another resolution. */
export type Ticks = number;

/** Real time in seconds. */
export type Seconds = number;

/** Real time in sample frames of the sample rate at hand. */
export type Samples = number;

/** Strength of a stroke as MIDI has it: a whole number from 1 (softest) to 127. */
export type Velocity = number;

/** Quarter notes per minute. */
export type Bpm = number;

/** A level or a ratio of levels on the logarithmic scale: 20 times the decimal logarithm of a factor. */
export type Decibels = number;

/** Frequency in hertz. */
export type Hertz = number;

/** MIDI note number, 0 to 127. */
export type NoteNumber = number;

/** MIDI channel counted from 0, as the bytes have it: the drum channel 10 is 9. */
export type Channel = number;

/** Channel 10 of General MIDI, where drums live. */
export const DRUM_CHANNEL: Channel = 9;

/** All sixteen channels of a MIDI cable. */
export const CHANNELS: readonly Channel[] = Array.from({ length: 16 }, (_, channel) => channel);

/** The nearest velocity that MIDI can say: whole, 1 to 127. */
export function toVelocity(value: number): Velocity {
  return Math.max(1, Math.min(127, Math.round(value)));
}
