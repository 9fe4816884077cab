import { nanoid } from 'nanoid';
import type { Command } from '@/core/commands';
import {
  layoutOf,
  CHARACTER_IDS,
  KITS,
  pieceOf,
  type CharacterId,
  type KitPiece,
  type PieceDesign,
  type SoundId,
  type SoundLayer,
} from '@/core/model';
import { partsOf, together } from '@/core/tracks';
import { notify } from '../notices/notices';
import { commitGesture, editOrSay, preview } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { prepareSounds, strike } from '../transport/transport';
import { chosenTrack } from './balance';
import { chooseFilesFor, instead, type HowLoaded } from './samples';

/** The piece whose sound is worked on: the opened one, or the first of the chosen track. */
function pieceNow(): KitPiece | undefined {
  const state = useWorkbench.getState();
  const song = openSongNow();
  const track = chosenTrack(state);
  const parts = (track && partsOf(layoutOf(song), song.kit).get(track.id)) ?? [];
  const part = parts.find(({ piece }) => piece === state.openedPiece) ?? parts[0];
  const piece = part && song.kit.pieces.find(({ id }) => id === part.piece);
  if (!piece) notify('Choose a track with a piece of the kit first.');
  return piece;
}

/** Opens the sound of a piece in the card of its track, or closes it. */
export function openPiece(piece?: string): void {
  const id = piece ?? pieceNow()?.id;
  const { openedPiece } = useWorkbench.getState();
  useWorkbench.setState({ openedPiece: id === openedPiece ? undefined : id });
}

export function toggleFamily(): void {
  useWorkbench.setState(({ allOfFamily }) => ({ allOfFamily: !allOfFamily }));
}

/** The pieces that are set when this one is. */
function setTogether(piece: KitPiece): KitPiece[] {
  return together(openSongNow(), piece, useWorkbench.getState().allOfFamily);
}

/** Sets how a piece stands at the kit while a gesture lasts; its level is that of all of its family, where that is wished. */
export function slidePiece(
  piece: KitPiece,
  { level, ...own }: { level?: number; pan?: number; room?: number },
): void {
  const commands: Command[] = [];
  if (Object.keys(own).length > 0)
    commands.push({ type: 'set piece sound', piece: piece.id, ...own });
  for (const { id } of level === undefined ? [] : setTogether(piece)) {
    commands.push({ type: 'set piece sound', piece: id, level });
  }
  preview(commands, 'sound');
}

type Change = Pick<PieceDesign, 'tune' | 'damping' | 'edge' | 'floor' | 'bend' | 'alternates'>;

/** Changes how the sounds of a piece are made, while a gesture lasts. */
export function slideDesign(piece: KitPiece, change: Change): void {
  preview(
    setTogether(piece).map(({ id }) => ({ type: 'design piece' as const, piece: id, ...change })),
    'sound of a piece',
  );
}

/** The same at once. */
export function setDesign(piece: KitPiece, change: Change): void {
  slideDesign(piece, change);
  commitGesture();
}

/** Tunes the piece of the chosen track. @param cents up or down */
export function stepTune(cents: number): void {
  const piece = pieceNow();
  if (!piece) return;
  const tune = Math.max(-2400, Math.min(2400, (piece.design?.tune ?? 0) + cents));
  setDesign(piece, { tune });
  notify(
    `${piece.name}: ${tune === 0 ? 'as it is tuned' : `${tune > 0 ? '+' : '−'}${Math.abs(tune)} cents`}.`,
  );
}

/** Damps the piece of the chosen track more or less. */
export function stepDamping(by: number): void {
  const piece = pieceNow();
  if (!piece) return;
  const damping =
    Math.round(Math.max(0, Math.min(1, (piece.design?.damping ?? 0) + by)) * 100) / 100;
  setDesign(piece, { damping });
}

export function setChoke(piece: KitPiece, group: number): void {
  const commands = setTogether(piece).map(({ id }) => ({
    type: 'choke piece' as const,
    piece: id,
    group,
  }));
  preview(commands, 'choke group');
  commitGesture();
}

/** Puts the piece of the chosen track into the next choke group. */
export function nextChoke(): void {
  const piece = pieceNow();
  if (!piece) return;
  const group = ((piece.articulations[0].choke ?? 0) + 1) % (CHOKE_GROUPS + 1);
  setChoke(piece, group);
  notify(`${piece.name}: ${group === 0 ? 'no choke group' : `choke group ${group}`}.`);
}

/** So many choke groups are offered. */
export const CHOKE_GROUPS = 8;

/** A sound that a piece can have instead of its own. */
export interface OtherSound {
  character: CharacterId;
  sound: SoundId;
  name: string;
}

/** The sounds that a piece can have: those of its family in every kit, its own first. */
export function soundsFor(piece: KitPiece): OtherSound[] {
  const { kit } = openSongNow();
  const own = piece.articulations[0].note;
  const family = kit.pieces
    .filter((one) => one.family === piece.family)
    .flatMap((one) => one.articulations.map((way) => ({ one, way })))
    .filter(({ way }) => (way.sound ?? way.note) <= 128);
  const names = new Map<SoundId, string>();
  for (const { one, way } of family) {
    const sound = way.sound ?? way.note;
    if (names.has(sound)) continue;
    names.set(sound, one.articulations.length > 1 ? `${one.name}, ${way.name}` : one.name);
  }
  const sounds = [own, ...[...names.keys()].filter((sound) => sound !== own)];
  return CHARACTER_IDS.flatMap((character) =>
    sounds.map((sound) => ({
      character,
      sound,
      name: `${names.get(sound) ?? piece.name}, ${KITS[character].name}`,
    })),
  );
}

/** Which of its sounds a piece has. */
export function soundNow(piece: KitPiece, sounds: readonly OtherSound[]): number {
  const { kit } = openSongNow();
  const { character = kit.character ?? 'warm', sound = piece.articulations[0].note } =
    piece.design?.instead ?? {};
  return sounds.findIndex((one) => one.character === character && one.sound === sound);
}

/** Gives a piece another sound, and strikes it when nothing plays. */
export function chooseSound(piece: KitPiece, other: OtherSound): void {
  const { kit } = openSongNow();
  const own =
    other.character === (kit.character ?? 'warm') && other.sound === piece.articulations[0].note;
  // With several ways of striking, each keeps its own sound of the other kit.
  const whole = other.sound === piece.articulations[0].note;
  const done = editOrSay(
    [
      ...instead(piece),
      {
        type: 'design piece',
        piece: piece.id,
        ...(own
          ? { own: true }
          : { character: other.character, ...(!whole && { sound: other.sound }) }),
      },
    ],
    'sound',
  );
  if (done) hearPiece(piece.id);
}

/** The next sound for a piece, or the one before. */
export function stepSound(by: 1 | -1, piece = pieceNow()): void {
  if (!piece) return;
  const sounds = soundsFor(piece);
  const at = soundNow(piece, sounds);
  chooseSound(piece, sounds[(Math.max(0, at) + by + sounds.length) % sounds.length]);
}

/** Strikes a piece while nothing plays; what plays lets it be heard in place. */
export function hearPiece(id: string): void {
  const { playing } = useWorkbench.getState();
  prepareSounds([id]);
  if (playing) return;
  const piece = pieceOf(id, openSongNow().kit);
  strike(id, piece.articulations[0].id, 100);
}

/** Puts one more sound of the kits on a piece. */
export function addLayer(piece = pieceNow()): void {
  if (!piece) return;
  const [first] = soundsFor(piece).slice(1);
  const layer: SoundLayer = {
    id: nanoid(8),
    from: 'kit',
    name: first.name,
    level: 0.5,
    tune: 0,
    velocities: [1, 127],
    ...(piece.articulations.length > 1 && { articulation: piece.articulations[0].id }),
    character: first.character,
    sound: first.sound,
  };
  if (editOrSay({ type: 'put layer', piece: piece.id, layer }, 'layer')) hearPiece(piece.id);
}

/** Changes a layer while a gesture lasts. */
export function slideLayer(piece: KitPiece, layer: SoundLayer): void {
  preview([{ type: 'put layer', piece: piece.id, layer }], 'layer');
}

export function setLayer(piece: KitPiece, layer: SoundLayer): void {
  if (editOrSay({ type: 'put layer', piece: piece.id, layer }, 'layer')) hearPiece(piece.id);
}

/** Takes a layer off a piece; without a name, the last one of the piece of the chosen track. */
export function removeLayer(piece = pieceNow(), layer = piece?.design?.layers?.at(-1)?.id): void {
  if (!piece) return;
  if (!layer) return notify(`${piece.name} has no layers.`);
  editOrSay({ type: 'remove layer', piece: piece.id, layer }, 'layer');
}

/** Turns the own sound of a piece off, so that only its layers are heard, or on again. */
export function toggleOwn(piece: KitPiece): void {
  const command: Command = {
    type: 'design piece',
    piece: piece.id,
    bare: !piece.design?.bare,
  };
  editOrSay(command, 'own sound');
}

/** Lets the user choose sound files for the piece of the chosen track. */
export function filesForPiece(how: HowLoaded): void {
  const piece = pieceNow();
  if (piece) void chooseFilesFor(piece.id, how);
}
