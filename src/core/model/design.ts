import type { Seconds, Velocity } from '../time';
import { soundOf, type Kit, type KitPiece } from './kit';
import {
  DESIGN_LIMITS,
  type CharacterId,
  type PieceDesign,
  type SampleHash,
  type SoundId,
} from './pieceDesign';

/** All that decides one sound of a kit. Two that are equal as JSON sound the same. */
export interface SoundDesign extends PieceDesign {
  sound: SoundId;
  character: CharacterId;
  /** With a room that rings so long: what leads up to a stroke, when it is played backwards. */
  swell?: Seconds;
}

/**
 * What decides the sound of a note: that of the piece which has it, as its kit and its piece say.
 * @param ring of the room it stands in, which swells have with them
 */
export function designOf(kit: Kit, sound: SoundId, ring?: Seconds): SoundDesign {
  if (sound >= FIRST_SWELL) {
    const of = designOf(kit, sound - FIRST_SWELL);
    return { ...of, swell: Math.max(LEAST_SWELL, ring ?? 0) };
  }
  const { character = 'warm' } = kit;
  for (const piece of kit.pieces) {
    const way = piece.articulations.find(({ id }) => soundOf(piece.id, id, kit) === sound);
    if (!way) continue;
    const { layers, ...design } = piece.design ?? {};
    const heard = layers?.filter((layer) => (layer.articulation ?? way.id) === way.id);
    return { sound, character, ...design, ...(heard && heard.length > 0 && { layers: heard }) };
  }
  return { sound, character };
}

/** A room that rings shorter would not be heard to swell, in seconds. */
const LEAST_SWELL: Seconds = 1.2;

/** The sound files that the layers of a design play. */
export function filesOf({ layers = [] }: PieceDesign): SampleHash[] {
  const files = layers.flatMap((layer) => (layer.from === 'files' ? layer.files : []));
  return [...new Set(files.map(({ hash }) => hash))];
}

/** The sound files that a kit plays. */
export function samplesOf(kit: Kit): SampleHash[] {
  return [...new Set(kit.pieces.flatMap(({ design }) => (design ? filesOf(design) : [])))];
}

/** Sounds from here on are those that no note and no string has: slices of loops. */
export const FIRST_SLICE: SoundId = 256;
export const LAST_SOUND: SoundId = 4095;

/** Behind all of them: each sound with a room, as it leads up to a stroke. */
const FIRST_SWELL: SoundId = LAST_SOUND + 1;
export const SOUND_COUNT = 2 * FIRST_SWELL;

/** The swell of a sound. */
export function swellOf(sound: SoundId): SoundId {
  return FIRST_SWELL + sound;
}

/** The first of so many sounds in a row that nothing of a kit has yet; undefined where none are left. */
export function freeSounds(kit: Kit, count: number): SoundId | undefined {
  const used = kit.pieces.flatMap(({ articulations }) =>
    articulations.map(({ sound = 0 }) => sound),
  );
  const first = Math.max(FIRST_SLICE - 1, ...used) + 1;
  return first + count - 1 <= LAST_SOUND ? first : undefined;
}

/** The piece of a kit with another design; of values that say nothing, nothing is kept. */
export function redesigned(piece: KitPiece, change: PieceDesign): KitPiece {
  const after = Object.entries({ ...piece.design, ...change }).filter(
    ([name, value]) =>
      value !== undefined &&
      NOTHING[name as keyof typeof NOTHING] !== value &&
      !(Array.isArray(value) && value.length === 0),
  );
  const { design: _, ...rest } = piece;
  return after.length > 0 ? { ...rest, design: Object.fromEntries(after) } : rest;
}

const NOTHING = { tune: 0, damping: 0, edge: 0, floor: 1, bend: 0, alternates: 4 };

/** The velocity that a stroke is struck with, by the response of its piece. */
export function struckAs(velocity: Velocity, { floor = 1, bend = 0 }: PieceDesign): number {
  const share = ((velocity - 1) / 126) ** (2 ** -(2 * bend));
  return floor + (127 - floor) * share;
}

/** The bend, in hundredths, that has strokes of a velocity struck as another one. */
export function bendReaching(velocity: Velocity, struck: number, floor: Velocity): number {
  const share = Math.max(0.01, Math.min(0.99, (struck - floor) / (127 - floor || 1)));
  const bend = -Math.log2(Math.log(share) / Math.log((velocity - 1) / 126)) / 2;
  const [low, high] = DESIGN_LIMITS.bend;
  return Math.round(Math.max(low, Math.min(high, bend)) * 100) / 100;
}
