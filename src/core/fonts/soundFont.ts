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

/** Where such files keep their drum kits. */
const DRUM_BANK = 128;

/** Kits beyond this are not read. */
const MOST_KITS = 64;

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
): FontKit[] | string {
  if (!isInOrder(bytes)) return 'is no SoundFont 2 file, or it is cut off or damaged.';
  let presets: Preset[];
  try {
    presets = new SoundFont2(bytes).presets;
  } catch {
    return 'is no SoundFont 2 file, or it is cut off or damaged.';
  }
  const drums = presets.filter(({ header }) => header.bank === DRUM_BANK);
  if (drums.length === 0) return 'has no drum kit: nothing is in its bank 128.';
  const made = new Map<string, Float32Array>();
  return drums.slice(0, MOST_KITS).map((preset) => ({
    name: preset.header.name || `kit ${preset.header.preset + 1}`,
    sounds: notes.flatMap((note) => soundsOf(preset, note, rate, made)),
  }));
}

/** What is played of a note: a zone of an instrument, within one of the preset. */
interface Played {
  zone: InstrumentZone;
  within: PresetZone;
  velocities: [Velocity, Velocity];
}

function soundsOf(
  preset: Preset,
  note: NoteNumber,
  rate: Hertz,
  made: Map<string, Float32Array>,
): FontSound[] {
  const played = preset.zones
    .filter((zone) => takes(zone, note))
    .flatMap((within) =>
      within.instrument.zones.flatMap((zone): Played[] => {
        const velocities = sharedVelocities(velocitiesOf(within), velocitiesOf(zone));
        return takes(zone, note) && velocities && zone.sample ? [{ zone, within, velocities }] : [];
      }),
    );
  const rest = [...played];
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
    const sides = [left, right].map((part) => part && samplesOf(part, note, rate, made));
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

/** The samples of one side, tuned and as loud as its zones say. */
function samplesOf(
  { zone, within }: Played,
  note: NoteNumber,
  rate: Hertz,
  made: Map<string, Float32Array>,
): Float32Array {
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
  const samples = Float32Array.from(
    data.subarray(Math.min(from, data.length), Math.max(from, to)),
    (x) => (x / 32768) * gain,
  );
  const out = resampled(samples, speed);
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

/** Sizes of the rows of its tables, and where in a row its place in the next table stands, in bytes. */
const TABLES: Readonly<Record<string, readonly [size: number, place: number]>> = {
  phdr: [38, 24],
  pbag: [4, 0],
  inst: [22, 20],
  ibag: [4, 0],
};

/**
 * Whether the tables of a file lead on from row to row, so that reading them takes no longer than they are: a
 * made-up file could have every row lead through all of the next table.
 */
function isInOrder(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || word(0) !== 'RIFF' || word(8) !== 'sfbk') return false;
  const seen = new Set<string>();
  for (let at = 12; at + 8 <= bytes.length;) {
    const id = word(at);
    const size = view.getUint32(at + 4, true);
    if (id === 'LIST') {
      at += 12;
      continue;
    }
    const table = TABLES[id];
    if (table) {
      const [row, place] = table;
      if (size % row !== 0 || at + 8 + size > bytes.length || seen.has(id)) return false;
      seen.add(id);
      for (let i = at + 8, last = 0; i < at + 8 + size; i += row) {
        const next = view.getUint16(i + place, true);
        if (next < last || next > 32767) return false;
        last = next;
      }
    }
    at += 8 + size + (size % 2);
  }
  return seen.size === 4;
}
