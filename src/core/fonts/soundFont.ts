import type { Hertz, NoteNumber, Velocity } from '../time';
import { resampled, sharedVelocities, type Pcm } from '../sound';
import {
  readTables,
  type Bytes,
  type FontPreset,
  type FontSample,
  type FontTables,
  type Zone,
} from './tables';

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
  /** The name of the bank; empty where it has none. */
  name: string;
  kits: FontKit[];
  /** Sounds that are left out: there are more, or longer ones, than a kit has. */
  left: number;
}

/** Generators of zones, by the numbers of the specification, section 8.1.2. */
const SAYS = {
  start: 0,
  end: 1,
  startCoarse: 4,
  instrument: 41,
  keys: 43,
  velocities: 44,
  attenuation: 48,
  coarseTune: 51,
  fineTune: 52,
  sample: 53,
  scale: 56,
  rootKey: 58,
  endCoarse: 12,
} as const;
/** Samples of one step of a coarse offset. */
const COARSE = 32_768;

/** Strokes while they are made, and how much more may be made of their file. */
interface Making {
  tables: FontTables;
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
export async function readSoundFont(
  bytes: Bytes,
  notes: readonly NoteNumber[],
  rate: Hertz,
): Promise<ReadFont | string> {
  const tables = await readTables(bytes);
  if (!tables) return 'is no SoundFont 2 file, or it is cut off or damaged.';
  const drums = tables.presets.filter(({ bank }) => bank === DRUM_BANK);
  if (drums.length === 0) return 'has no drum kit: nothing is in its bank 128.';
  const room = (MOST_TIMES * bytes.size) / 2 + MOST_SECONDS * rate;
  const making: Making = { tables, rate, made: new Map(), room, left: 0 };
  const kits: FontKit[] = [];
  for (const preset of drums.slice(0, MOST_KITS)) {
    const sounds: FontSound[] = [];
    for (const note of notes) sounds.push(...(await soundsOf(preset, note, making)));
    kits.push({ name: preset.name || `kit ${preset.preset + 1}`, sounds });
  }
  return { name: tables.name, kits, left: making.left };
}

/** What is played of a note: a zone of an instrument, within one of the preset. */
interface Played {
  zone: Zone;
  within: Zone;
  sample: FontSample;
  velocities: [Velocity, Velocity];
}

async function soundsOf(
  preset: FontPreset,
  note: NoteNumber,
  making: Making,
): Promise<FontSound[]> {
  const played = playedOf(preset, note, making);
  const rest = played.slice(0, MOST_LAYERS);
  making.left += played.length - rest.length;
  const sounds: FontSound[] = [];
  for (let one = rest.shift(); one; one = rest.shift()) {
    const { velocities } = one;
    const side = sideOf(one.sample);
    const at = rest.findIndex(
      (other) =>
        side !== undefined &&
        sideOf(other.sample) === (side === 'left' ? 'right' : 'left') &&
        other.velocities.join() === velocities.join(),
    );
    const [other] = at < 0 ? [] : rest.splice(at, 1);
    const [left, right] = side === 'right' && other ? [other, one] : [one, other];
    const sides = [
      await samplesOf(left, note, making),
      right && (await samplesOf(right, note, making)),
    ];
    if (!sides[0] || sides[0].length === 0) continue;
    sounds.push({
      note,
      name: left.sample.name || `note ${note}`,
      velocities,
      pcm: { left: sides[0], ...(sides[1] && { right: fitted(sides[1], sides[0].length) }) },
    });
  }
  return sounds;
}

/** The zones that a note is played by, as far as they are looked at. */
function playedOf(preset: FontPreset, note: NoteNumber, making: Making): Played[] {
  const played: Played[] = [];
  let looks = 0;
  for (const within of preset.zones) {
    if (!takes(within, note)) continue;
    for (const zone of making.tables.instrument(within.get(SAYS.instrument)!) ?? []) {
      if (++looks > MOST_ZONES) {
        making.left++;
        return played;
      }
      const velocities = sharedVelocities(velocitiesOf(within), velocitiesOf(zone));
      const sample = making.tables.sample(zone.get(SAYS.sample)!);
      if (takes(zone, note) && velocities && sample)
        played.push({ zone, within, sample, velocities });
    }
  }
  return played;
}

/** The samples of one side, tuned and as loud as its zones say; undefined where there is no room for more. */
async function samplesOf(
  { zone, within, sample }: Played,
  note: NoteNumber,
  making: Making,
): Promise<Float32Array | undefined> {
  const { rate, made, tables } = making;
  const both = (says: number) => valueOf(zone, says, 0) + valueOf(within, says, 0);
  const pitch = sample.pitch > 127 ? 60 : sample.pitch;
  const root = valueOf(zone, SAYS.rootKey, -1);
  const scale = valueOf(zone, SAYS.scale, 100);
  const cents =
    (note - (root >= 0 ? root : pitch)) * scale +
    100 * both(SAYS.coarseTune) +
    both(SAYS.fineTune) +
    sample.correction;
  const gain = 10 ** (-Math.max(0, both(SAYS.attenuation)) / 200);
  const offset = (fine: number, coarse: number) =>
    valueOf(zone, fine, 0) + COARSE * valueOf(zone, coarse, 0);
  const from = sample.start + Math.max(0, offset(SAYS.start, SAYS.startCoarse));
  const to = sample.end + Math.min(0, offset(SAYS.end, SAYS.endCoarse));
  const speed = Math.max(1 / 16, Math.min(16, (sample.rate / rate) * 2 ** (cents / 1200)));
  const key = [sample.name, from, to, speed, gain].join();
  const known = made.get(key);
  if (known) return known;
  const length = Math.max(0, to - from);
  const work = Math.max(length, length / speed);
  if (!Number.isFinite(work) || work > making.room) {
    making.left++;
    return undefined;
  }
  making.room -= work;
  const part = await tables.samples(from, to);
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

/** The value of a generator, as a number with a sign. */
function valueOf(zone: Zone, says: number, usual: number): number {
  const value = zone.get(says);
  return value === undefined ? usual : (value << 16) >> 16;
}

/** A range is two bytes: the lowest, and the highest. */
const rangeOf = (value: number): [number, number] => [value & 255, value >> 8];

function takes(zone: Zone, note: NoteNumber): boolean {
  const keys = zone.get(SAYS.keys);
  if (keys === undefined) return true;
  const [low, high] = rangeOf(keys);
  return note >= low && note <= high;
}

function velocitiesOf(zone: Zone): [Velocity, Velocity] {
  const range = zone.get(SAYS.velocities);
  if (range === undefined) return [1, 127];
  const [low, high] = rangeOf(range);
  return [Math.max(1, low), Math.min(127, high)];
}

/** Samples of one side are linked to the other's. Source: the same, section 7.10. */
const SIDES: Readonly<Record<number, 'left' | 'right'>> = { 4: 'left', 2: 'right' };

const sideOf = ({ type }: FontSample): 'left' | 'right' | undefined => SIDES[type];
