import { isId, isRecord, isText, type Finds } from './finds';
import { DEFAULT_KIT, FAMILIES, type Kit, type KitPiece } from './kit';
import { BY_PIECE, ONE_TRACK, type TrackLayout } from './layout';
import { MOST, within } from './limits';
import { LAST_SOUND } from './design';
import {
  CHARACTER_IDS,
  DESIGN_LIMITS,
  LONGEST_FILE,
  LOUDEST_LAYER,
  type SampleLayer,
} from './pieceDesign';
import { isMark, isOneOf, isOptional } from './soundValues';
import {
  DYNAMICS_LIMITS,
  FILTER_KINDS,
  LONGEST_RAMP,
  MOST_OUTPUTS,
  TONE_BANDS,
  TONE_LIMITS,
  usualMix,
  type BusSetting,
  type DrumBus,
  type FilterSetting,
  type Mix,
  type SectionMix,
  type StripSetting,
  type ToneBand,
} from './mix';
import { GENERAL_MIDI, type NoteMap } from './noteMap';

const isFactor = (value: unknown) => within(value, [0, 4]);
const isPan = (value: unknown) => within(value, [-1, 1]);
const isNote = (value: unknown) => Number.isInteger(value) && within(value, [0, 127]);
const isList = (value: unknown, is: (item: unknown) => boolean): boolean =>
  Array.isArray(value) && value.length <= MOST.spans && value.every(is);

/** The kit, or the usual one where anything about it is not as it must be. */
export function salvageKit(value: unknown, finds: Finds): Kit {
  if (value === DEFAULT_KIT || finds.trusts(value)) return value as Kit;
  const kit = value as Kit;
  if (!finds.expect(isKit(value), 'kit', 'The kit is not as it must be; the usual one is used.')) {
    return DEFAULT_KIT;
  }
  return same(kit, DEFAULT_KIT) ? DEFAULT_KIT : kit;
}

/** Whether it is a kit that can be struck and heard. */
export function isKit(value: unknown): boolean {
  const kit = value as Kit;
  return (
    isRecord(value) &&
    isText(value.name) &&
    (kit.character === undefined || CHARACTER_IDS.includes(kit.character)) &&
    isOptional(kit.kept, isId) &&
    isList(value.pieces, isPiece) &&
    kit.pieces.length > 0 &&
    new Set(kit.pieces.map(({ id }) => id)).size === kit.pieces.length
  );
}

/** What was stored as the usual one is the usual one again, and not a copy of it. */
function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function isPiece(value: unknown): boolean {
  const piece = value as KitPiece;
  return (
    isRecord(value) &&
    isId(value.id) &&
    isText(value.name) &&
    FAMILIES.includes(piece.family) &&
    isFactor(value.level) &&
    isPan(value.pan) &&
    isList(value.filters, isFilter) &&
    (value.room === undefined || within(value.room, [0, 1])) &&
    isList(value.articulations, isArticulation) &&
    piece.articulations.length > 0 &&
    isOptional(value.design, isDesign)
  );
}

const isVelocities = (value: unknown) =>
  isList(value, isVelocity) && (value as number[]).length === 2;
const isVelocity = (value: unknown) => Number.isInteger(value) && within(value, [1, 127]);
const isSound = (value: unknown) => Number.isInteger(value) && within(value, [0, LAST_SOUND]);
const isCharacter = isOneOf(CHARACTER_IDS);

/** Whether it is a way to make the sounds of a piece. */
function isDesign(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const { instead, bare, layers } = value;
  const numbers = Object.entries(DESIGN_LIMITS).every(([name, limits]) =>
    isOptional(value[name], (one) => within(one, limits)),
  );
  const other = (one: unknown) =>
    isRecord(one) && isCharacter(one.character) && isOptional(one.sound, isSound);
  return (
    numbers &&
    isOptional(value.alternates, Number.isInteger) &&
    isOptional(instead, other) &&
    isMark(bare) &&
    isOptional(layers, (list) => isList(list, isSoundLayer)) &&
    new Set((layers as { id: string }[] | undefined)?.map(({ id }) => id)).size ===
      ((layers as unknown[] | undefined)?.length ?? 0)
  );
}

/** Whether it is a layer that can be heard. */
export function isSoundLayer(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const layer = value as unknown as SampleLayer;
  const base =
    isId(layer.id) &&
    isText(layer.name) &&
    within(layer.level, [0, LOUDEST_LAYER]) &&
    within(layer.tune, DESIGN_LIMITS.tune) &&
    isVelocities(layer.velocities) &&
    isOptional(layer.articulation, isId);
  if (value.from === 'kit') return base && isCharacter(value.character) && isSound(value.sound);
  const file = (one: unknown) =>
    isRecord(one) &&
    /^[0-9a-f]{64}$/.test(String(one.hash)) &&
    isText(one.name) &&
    isVelocities(one.velocities);
  const sample = (one: unknown) => Number.isInteger(one) && within(one, [0, LONGEST_FILE]);
  return (
    base &&
    value.from === 'files' &&
    isList(value.files, file) &&
    layer.files.length > 0 &&
    sample(layer.start) &&
    isOptional(layer.end, sample) &&
    within(layer.fadeIn, [0, 60]) &&
    within(layer.fadeOut, [0, 60]) &&
    isMark(layer.reverse) &&
    isOptional(layer.lowpass, (one) => within(one, [20, 24_000])) &&
    isOptional(layer.decay, (one) => within(one, [0.005, 60]))
  );
}

function isArticulation(value: unknown): boolean {
  return (
    isRecord(value) &&
    isId(value.id) &&
    isText(value.name) &&
    isNote(value.note) &&
    ['dot', 'cross', 'circled-cross', 'diamond', 'triangle'].includes(String(value.head)) &&
    isOptional(value.sound, isSound) &&
    (value.choke === undefined || (Number.isInteger(value.choke) && within(value.choke, [0, 255])))
  );
}

function isFilter(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const { kind, gain } = value as unknown as FilterSetting;
  return (
    FILTER_KINDS.includes(kind) &&
    within(value.frequency, [5, 24_000]) &&
    within(value.q, [0.05, 40]) &&
    (gain === undefined || within(gain, [-48, 48]))
  );
}

/** Whether it is a note map through which every stroke goes out. */
export function isNoteMap(value: unknown): boolean {
  if (!isRecord(value) || !isText(value.name) || !isMark(value.only)) return false;
  const { notes, reads = {} } = value;
  return (
    isRecord(notes) &&
    Object.keys(notes).length <= MOST.list &&
    Object.values(notes).every(isNote) &&
    (value.only !== true || Object.keys(notes).length > 0) &&
    isRecord(reads) &&
    Object.entries(reads).every(([note, key]) => isNote(Number(note)) && isText(key))
  );
}

export function salvageNoteMap(value: unknown, finds: Finds): NoteMap {
  if (finds.trusts(value)) return value as NoteMap;
  return finds.value(
    value,
    isNoteMap,
    GENERAL_MIDI,
    'noteMap',
    'The note map is not as it must be.',
  );
}

/** The layouts that route every hit; the usual ones where none does. */
export function salvageLayouts(value: unknown, finds: Finds): readonly TrackLayout[] {
  if (finds.trusts(value)) return value as readonly TrackLayout[];
  const layouts = finds.list(
    value,
    'layouts',
    MOST.spans,
    (item, where) =>
      finds.expect(isLayout(item), where, ROUTES) ? (item as TrackLayout) : undefined,
    ({ id }) => id,
  );
  return layouts.length > 0 ? layouts : [ONE_TRACK, BY_PIECE];
}

const ROUTES = 'A layout must put every hit on a track it has, the last rule all that are left.';

function isLayout(value: unknown): boolean {
  if (!isRecord(value) || !isId(value.id) || !isText(value.name)) return false;
  const { tracks, rules } = value as unknown as TrackLayout;
  const track = (item: unknown) => isRecord(item) && isId(item.id) && isText(item.name);
  if (!isList(tracks, track)) return false;
  const ids = new Set(tracks.map(({ id }) => id));
  const rule = (item: unknown) =>
    isRecord(item) &&
    ids.has(item.track as string) &&
    isOptional(item.piece, isId) &&
    isOptional(item.articulation, isId) &&
    isOptional(item.source, (source) => Number.isInteger(source) && within(source, [0, 15]));
  if (ids.size !== tracks.length || !isList(rules, rule)) return false;
  const last = rules[rules.length - 1];
  return (
    last !== undefined &&
    last.piece === undefined &&
    last.articulation === undefined &&
    last.source === undefined
  );
}

export function salvageMixes(
  value: unknown,
  layouts: ReadonlySet<string>,
  finds: Finds,
): readonly Mix[] {
  return finds.list(
    value,
    'mixes',
    MOST.spans,
    (item, where) => {
      const sound = isRecord(item) && layouts.has(item.layout as string);
      if (!finds.expect(sound, where, 'A mix is of a layout that is not there.')) return undefined;
      const { strips, buses, drums } = item as unknown as Mix;
      const whole = isList(strips, isStrip) && isList(buses, isBus) && isOptional(drums, isDrumBus);
      return finds.expect(whole, where, 'A mix has settings that cannot be heard.')
        ? (item as unknown as Mix)
        : usualMix((item as unknown as Mix).layout);
    },
    ({ layout }) => layout,
  );
}

/** Whether it is a strip that can be heard. */
export function isStrip(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const { track, level, pan, mute, solo, flip, sends, dry, output } =
    value as unknown as StripSetting;
  return (
    isId(track) &&
    isFactor(level) &&
    isPan(pan) &&
    isMark(mute) &&
    isMark(solo) &&
    isMark(flip) &&
    isList(sends, isSend) &&
    isOptional(dry, isShare) &&
    isOptional(output, (pair) => Number.isInteger(pair) && within(pair, [2, MOST_OUTPUTS])) &&
    isChain(value)
  );
}

const isShare = (value: unknown) => within(value, [0, 1]);
const isSend = (item: unknown) => isRecord(item) && isId(item.bus) && isShare(item.level);

/** What strips and the bus of all drums have in common. */
function isChain({ tone, dynamics, drive }: Record<string, unknown>): boolean {
  return isOptional(tone, isTone) && isOptional(dynamics, isDynamics) && isOptional(drive, isShare);
}

/** Whether dynamics can be heard: all that they have, within what it reaches. */
export function isDynamics(value: unknown): boolean {
  return (
    isRecord(value) &&
    Object.entries(DYNAMICS_LIMITS).every(([name, limits]) => within(value[name], limits))
  );
}

/** Whether it is a bus that all drums can go through. */
function isDrumBus(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const { level, ceiling } = value as unknown as DrumBus;
  return isOptional(level, isFactor) && within(ceiling, [-24, 0]) && isChain(value);
}

/** Whether a tone can be heard: bands that there are, within what they reach. */
export function isTone(value: unknown): boolean {
  return (
    isRecord(value) &&
    Object.entries(value).every(
      ([band, setting]) =>
        TONE_BANDS.includes(band as ToneBand) &&
        isRecord(setting) &&
        within(setting.frequency, TONE_LIMITS.frequency) &&
        within(setting.gain, TONE_LIMITS.gain),
    )
  );
}

function isBus(value: unknown): boolean {
  if (!isRecord(value)) return false;
  const { id, name, kind, level, ring, beats } = value as unknown as BusSetting;
  return (
    isId(id) &&
    isText(name) &&
    (kind === 'room' || kind === 'echo') &&
    isFactor(level) &&
    (ring === undefined || within(ring, [0.05, 20])) &&
    (beats === undefined || within(beats, [1 / 64, 16]))
  );
}

export function salvageSectionMix(value: unknown, where: string, finds: Finds): SectionMix {
  const strip = (item: unknown) =>
    isRecord(item) &&
    isId(item.track) &&
    isOptional(item.level, isFactor) &&
    isOptional(item.pan, isPan) &&
    isOptional(item.mute, (mute) => typeof mute === 'boolean') &&
    isOptional(item.sends, (sends) => isList(sends, isSend)) &&
    isOptional(item.ramp, (ramp) => within(ramp, [0, LONGEST_RAMP]));
  const sound = isRecord(value) && isList(value.strips, strip);
  return finds.value(
    value,
    () => sound,
    { strips: [] },
    where,
    'What is mixed otherwise here cannot be heard.',
  );
}
