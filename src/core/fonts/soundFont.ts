import {
  GeneratorType,
  SampleType,
  SoundFont2,
  type InstrumentZone,
  type Preset,
  type PresetZone,
  type Sample,
} from 'soundfont2/lib/SoundFont2.node.js';
import type { Hertz, NoteNumber, Velocity } from '../time';
import { resampled, sharedVelocities, type Pcm } from '../sound';
import { isInOrder } from './tables';

/** Where such files keep their drum kits. */
const DRUM_BANK = 128;

/** Kits beyond this are not read. */
const MOST_KITS = 64;
/** Zones of one note that are looked at, and those that sound: no drum has as many layers. */
const MOST_ZONES = 4096;
const MOST_LAYERS = 256;
/** The most that is made of the samples of a file: this many times the file, and these seconds besides. */
const MOST_TIMES = 16;
const MOST_SECONDS = 60;

/** One sound of a drum kit: what is heard of a note at some velocities. Those that overlap sound together. */
export interface FontSound {
  note: NoteNumber;
  name: string;
  velocities: readonly [softest: Velocity, hardest: Velocity];
  pcm: Pcm;
}

/** A drum kit of a file. */
export interface FontKit {
  name: string;
  sounds: FontSound[];
}

/** The kits of a file. */
export interface ReadFont {
  kits: FontKit[];
  /** Sounds that are left out: there are more, or longer ones, than a kit has. */
  left: number;
}

/** Strokes while they are made, and how much more may be made of their file. */
interface Making {
  rate: Hertz;
  made: Map<string, Float32Array>;
  /** Samples that may still be read and made. */
  room: number;
  left: number;
}

/**
 * The drum kits of a SoundFont 2 file, with the sounds of some notes at a rate.
 * Source: SoundFont Technical Specification 2.04, 2006; attenuation, tuning and ranges of keys and velocities are
 * followed, envelopes, filters and loops are not: drums are heard as they were recorded.
 * @returns why the file cannot be read, in a sentence without its name
 */
export function readSoundFont(
  bytes: Uint8Array,
  notes: readonly NoteNumber[],
  rate: Hertz,
): ReadFont | string {
  if (!isInOrder(bytes)) return 'is no SoundFont 2 file, or it is cut off or damaged.';
  let presets: Preset[];
  try {
    presets = new SoundFont2(bytes).presets;
  } catch {
    return 'is no SoundFont 2 file, or it is cut off or damaged.';
  }
  const drums = presets.filter(({ header }) => header.bank === DRUM_BANK);
  if (drums.length === 0) return 'has no drum kit: nothing is in its bank 128.';
  const room = (MOST_TIMES * bytes.length) / 2 + MOST_SECONDS * rate;
  const making: Making = { rate, made: new Map(), room, left: 0 };
  const kits = drums.slice(0, MOST_KITS).map((preset) => ({
    name: preset.header.name || `kit ${preset.header.preset + 1}`,
    sounds: notes.flatMap((note) => soundsOf(preset, note, making)),
  }));
  return { kits, left: making.left };
}

/** What is played of a note: a zone of an instrument, within one of the preset. */
interface Played {
  zone: InstrumentZone;
  within: PresetZone;
  velocities: [Velocity, Velocity];
}

function soundsOf(preset: Preset, note: NoteNumber, making: Making): FontSound[] {
  const played = playedOf(preset, note, making);
  const rest = played.slice(0, MOST_LAYERS);
  making.left += played.length - rest.length;
  const sounds: FontSound[] = [];
  for (let one = rest.shift(); one; one = rest.shift()) {
    const { velocities } = one;
    const side = sideOf(one.zone.sample);
    const at = rest.findIndex(
      (other) =>
        side !== undefined &&
        sideOf(other.zone.sample) === (side === 'left' ? 'right' : 'left') &&
        other.velocities.join() === velocities.join(),
    );
    const [other] = at < 0 ? [] : rest.splice(at, 1);
    const [left, right] = side === 'right' && other ? [other, one] : [one, other];
    const sides = [left, right].map((part) => part && samplesOf(part, note, making));
    if (!sides[0] || sides[0].length === 0) continue;
    sounds.push({
      note,
      name: left.zone.sample.header.name || `note ${note}`,
      velocities,
      pcm: { left: sides[0], ...(sides[1] && { right: fitted(sides[1], sides[0].length) }) },
    });
  }
  return sounds;
}

/** The zones that a note is played by, as far as they are looked at. */
function playedOf(preset: Preset, note: NoteNumber, making: Making): Played[] {
  const played: Played[] = [];
  let looks = 0;
  for (const within of preset.zones) {
    if (!takes(within, note)) continue;
    for (const zone of within.instrument.zones) {
      if (++looks > MOST_ZONES) {
        making.left++;
        return played;
      }
      const velocities = sharedVelocities(velocitiesOf(within), velocitiesOf(zone));
      if (takes(zone, note) && velocities && zone.sample) played.push({ zone, within, velocities });
    }
  }
  return played;
}

/** The samples of one side, tuned and as loud as its zones say; undefined where there is no room for more. */
function samplesOf(
  { zone, within }: Played,
  note: NoteNumber,
  making: Making,
): Float32Array | undefined {
  const { rate, made } = making;
  const { data, header } = zone.sample;
  const both = (type: GeneratorType) => valueOf(zone, type, 0) + valueOf(within, type, 0);
  const pitch = header.originalPitch > 127 ? 60 : header.originalPitch;
  const root = valueOf(zone, GeneratorType.OverridingRootKey, -1);
  const scale = valueOf(zone, GeneratorType.ScaleTuning, 100);
  const cents =
    (note - (root >= 0 ? root : pitch)) * scale +
    100 * both(GeneratorType.CoarseTune) +
    both(GeneratorType.FineTune) +
    header.pitchCorrection;
  const gain = 10 ** (-Math.max(0, both(GeneratorType.InitialAttenuation)) / 200);
  const from = Math.max(0, valueOf(zone, GeneratorType.StartAddrsOffset, 0));
  const to = data.length + Math.min(0, valueOf(zone, GeneratorType.EndAddrsOffset, 0));
  const speed = Math.max(1 / 16, Math.min(16, (header.sampleRate / rate) * 2 ** (cents / 1200)));
  const key = [header.name, header.start, from, to, speed, gain].join();
  const known = made.get(key);
  if (known) return known;
  const part = data.subarray(Math.min(from, data.length), Math.max(from, to));
  const work = Math.max(part.length, part.length / speed);
  if (work > making.room) {
    making.left++;
    return undefined;
  }
  making.room -= work;
  const out = resampled(
    Float32Array.from(part, (x) => (x / 32768) * gain),
    speed,
  );
  made.set(key, out);
  return out;
}

const fitted = (samples: Float32Array, length: number) => {
  if (samples.length === length) return samples;
  const out = new Float32Array(length);
  out.set(samples.subarray(0, length));
  return out;
};

type AnyZone = Pick<InstrumentZone, 'generators'>;

function valueOf({ generators }: AnyZone, type: GeneratorType, usual: number): number {
  const value = generators[type]?.value;
  return Number.isFinite(value) ? value! : usual;
}

function takes({ generators }: AnyZone, note: NoteNumber): boolean {
  const range = generators[GeneratorType.KeyRange]?.range;
  return !range || (note >= range.lo && note <= range.hi);
}

function velocitiesOf({ generators }: AnyZone): [Velocity, Velocity] {
  const range = generators[GeneratorType.VelRange]?.range;
  return range ? [Math.max(1, range.lo), Math.min(127, range.hi)] : [1, 127];
}

function sideOf({ header }: Sample): 'left' | 'right' | undefined {
  if (header.type === SampleType.Left) return 'left';
  return header.type === SampleType.Right ? 'right' : undefined;
}
