import type { NoteNumber, Velocity } from '../time';
import {
  MOST_LAYERS,
  redesigned,
  type SampleHash,
  type SampleLayer,
  DEFAULT_KIT,
  FIRST_SLICE,
  freeSounds,
  KITS,
  type CharacterId,
  type Kit,
  type KitPiece,
  type Song,
} from '../model';
import { withPieces } from './layouts';
import { mixOf, setBus } from './strips';

/**
 * Plays the song with the sounds of another kit. The room goes along, where it rings as it usually does
 * with the kit before. What a kept kit made of the usual pieces goes with it; what was set on the usual kit stays.
 */
export function chooseKit(song: Song, character: CharacterId): Song {
  const before = song.kit.character ?? 'warm';
  const { name } = DEFAULT_KIT;
  const { kept, ...kit } = song.kit;
  if (kept === undefined && before === character && kit.name === name) return song;
  const usual = new Map(DEFAULT_KIT.pieces.map((piece) => [piece.id, piece]));
  const pieces =
    kept === undefined
      ? kit.pieces
      : kit.pieces.map((piece) => {
          const own = usual.get(piece.id);
          return own && !isCut(piece) ? soundingAs(piece, own) : piece;
        });
  return roomOfKit(before, character, {
    ...song,
    kit: withCharacter({ ...kit, name, pieces }, character),
  });
}

const withCharacter = ({ character: _, ...kit }: Kit, character: CharacterId): Kit =>
  character === 'warm' ? kit : { ...kit, character };

/** The room of another kit, where it rang as usual with the kit before. */
function roomOfKit(before: CharacterId, character: CharacterId, chosen: Song): Song {
  const room = mixOf(chosen).buses.find(({ kind }) => kind === 'room');
  if (!room || room.ring !== KITS[before].ring) return chosen;
  return setBus(chosen, room.id, { ring: KITS[character].ring }) as Song;
}

/** What a kit is called: by the name it was kept under, or as its sounds are. */
export function nameOfKit({ name, kept, character = 'warm' }: Kit): string {
  return kept === undefined && name === DEFAULT_KIT.name ? KITS[character].name : name;
}

/** The id of a kit: that of the kept kit, or of the sounds that are computed. Names may be alike. */
export const idOfKit = ({ kept, character = 'warm' }: Kit): string => kept ?? character;

/** The pieces of a kit that were cut from loops: nothing else has their sounds. */
const isCut = ({ articulations }: KitPiece) =>
  articulations.some(({ sound = 0 }) => sound >= FIRST_SLICE);

/**
 * Plays the song with a kit that was kept: its pieces sound, stand and choke as they do there. What the song
 * strikes that the kit has not stays as it is; pieces that only the kit has are added. No hit changes.
 */
export function takeKit(song: Song, kit: Kit): Song | string {
  const theirs = new Map(kit.pieces.map((piece) => [piece.id, piece]));
  const pieces = song.kit.pieces.map((piece) => {
    const other = theirs.get(piece.id);
    return other && !isCut(piece) && !isCut(other) ? soundingAs(piece, other) : piece;
  });
  const own = new Set(song.kit.pieces.map(({ id }) => id));
  const more = kit.pieces.filter(({ id }) => !own.has(id));
  const cut = more
    .flatMap(({ articulations }) => articulations)
    .filter(({ sound = 0 }) => sound >= FIRST_SLICE);
  const first = freeSounds(song.kit, cut.length);
  if (first === undefined)
    return 'This kit and that one together have more sounds than a kit can have.';
  // Sounds that were cut are numbered anew: the song may have others of the same numbers.
  const numbers = new Map(cut.map((way, i) => [way, first + i]));
  const added = more.map((piece) => ({
    ...piece,
    articulations: piece.articulations.map((way) => {
      const sound = numbers.get(way);
      return sound === undefined ? way : { ...way, sound };
    }),
  }));
  const before = song.kit.character ?? 'warm';
  const character = kit.character ?? 'warm';
  const { kept: _, ...rest } = song.kit;
  const named = {
    ...song,
    kit: withCharacter(
      { ...rest, name: kit.name, ...(kit.kept !== undefined && { kept: kit.kept }), pieces },
      character,
    ),
  };
  const taken = added.length > 0 ? withPieces(named, added) : named;
  if (JSON.stringify(taken.kit) === JSON.stringify(song.kit)) return song;
  return roomOfKit(before, character, taken);
}

/** A piece that sounds as another one, struck in the ways it has. */
function soundingAs(piece: KitPiece, other: KitPiece): KitPiece {
  const { design: _, room: __, ...rest } = piece;
  const { level, pan, filters, room, design } = other;
  const articulations = piece.articulations.map((way) => {
    const same = other.articulations.find(({ id }) => id === way.id);
    if (!same) return way;
    const { choke: ___, ...plain } = way;
    return same.choke === undefined ? plain : { ...plain, choke: same.choke };
  });
  return {
    ...rest,
    articulations,
    level,
    pan,
    filters,
    ...(room !== undefined && { room }),
    ...(design && { design }),
  };
}

/** A sound that a note of a drum kit has in a file. */
export interface NoteSound {
  note: NoteNumber;
  name: string;
  velocities: readonly [softest: Velocity, hardest: Velocity];
  hash: SampleHash;
}

/**
 * The usual kit with the sounds that a file has for its notes: each way of striking a piece sounds as its note
 * there. A way that the file lacks sounds as another one of its piece; a piece that it lacks stays as it is.
 */
export function kitOfSounds(name: string, sounds: readonly NoteSound[]): Kit {
  const byNote = new Map<NoteNumber, NoteSound[]>();
  for (const sound of sounds) byNote.set(sound.note, [...(byNote.get(sound.note) ?? []), sound]);
  const pieces = DEFAULT_KIT.pieces.map((piece): KitPiece => {
    const there = piece.articulations.find(({ note }) => byNote.has(note));
    if (!there) return piece;
    const layers = piece.articulations.flatMap(({ id, note }) =>
      (byNote.get(note) ?? byNote.get(there.note)!).map((sound, i): SampleLayer => ({
        id: `${id}-${i}`,
        from: 'files',
        name: sound.name,
        level: 1,
        tune: 0,
        velocities: sound.velocities,
        ...(piece.articulations.length > 1 && { articulation: id }),
        files: [{ hash: sound.hash, name: sound.name, velocities: [1, 127] }],
        start: 0,
        fadeIn: 0,
        fadeOut: 0,
      })),
    );
    return redesigned(piece, { bare: true, layers: layers.slice(0, MOST_LAYERS) });
  });
  return { ...DEFAULT_KIT, name, pieces };
}
