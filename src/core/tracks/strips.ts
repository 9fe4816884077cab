import {
  KITS,
  neutralStrip,
  usualMix,
  type BusSetting,
  type CharacterId,
  type Mix,
  type PieceId,
  type SectionStrip,
  type Song,
  type StripSetting,
  type Tone,
} from '../model';
import { layoutOf } from './layouts';

/** The mix of the layout in use; one that nobody has changed where there is none. */
export function mixOf(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>): Mix {
  const { id } = layoutOf(song);
  return song.mixes.find(({ layout }) => layout === id) ?? usualMix(id);
}

/** The strip of a track, as it is heard where no section says otherwise. */
export function stripOf(
  song: Pick<Song, 'layouts' | 'layout' | 'mixes'>,
  track: string,
): StripSetting {
  return mixOf(song).strips.find((strip) => strip.track === track) ?? neutralStrip(track);
}

function withMix(song: Song, change: (mix: Mix) => Mix): Song {
  const before = mixOf(song);
  const after = change(before);
  if (after === before) return song;
  const known = song.mixes.includes(before);
  return {
    ...song,
    mixes: known ? song.mixes.map((one) => (one === before ? after : one)) : [...song.mixes, after],
  };
}

const GONE = 'That track is not there any more.';
const has = (song: Song, track: string) => layoutOf(song).tracks.some(({ id }) => id === track);

/** Whether a track of a mix is not heard: it is muted, or others are heard alone. */
export function isSilent({ mute, solo }: StripSetting, strips: readonly StripSetting[]): boolean {
  return mute === true || (solo !== true && strips.some((strip) => strip.solo));
}

/** What of a strip is set; what is absent stays. */
export interface StripChange {
  level?: number;
  pan?: number;
  mute?: boolean;
  solo?: boolean;
}

/** Sets level, place, mute or solo of a track of the layout in use. */
export function setStrip(song: Song, track: string, change: StripChange): Song | string {
  if (!has(song, track)) return GONE;
  const before = stripOf(song, track);
  const { level = before.level, pan = before.pan } = change;
  const { mute = before.mute === true, solo = before.solo === true } = change;
  const { mute: _, solo: __, ...rest } = before;
  const after = {
    ...rest,
    level,
    pan,
    ...(mute && { mute }),
    ...(solo && { solo }),
  } as StripSetting;
  return withStrip(song, before, after);
}

/** Sends a track to a bus. @param level 0 to 1 */
export function sendTrack(song: Song, track: string, bus: string, level: number): Song | string {
  if (!has(song, track)) return GONE;
  if (!mixOf(song).buses.some(({ id }) => id === bus)) return 'That bus is not there any more.';
  const before = stripOf(song, track);
  const others = before.sends.filter((send) => send.bus !== bus);
  const sends = level > 0 ? [...others, { bus, level }] : others;
  return withStrip(song, before, { ...before, sends });
}

function withStrip(song: Song, before: StripSetting, after: StripSetting): Song {
  if (JSON.stringify(before) === JSON.stringify(after)) return song;
  return withMix(song, (mix) => {
    const known = mix.strips.some(({ track }) => track === after.track);
    return {
      ...mix,
      strips: known
        ? mix.strips.map((strip) => (strip.track === after.track ? after : strip))
        : [...mix.strips, after],
    };
  });
}

/** Gives a track another tone; none is as it is recorded. */
export function setTone(song: Song, track: string, tone: Tone | undefined): Song | string {
  if (!has(song, track)) return GONE;
  const before = stripOf(song, track);
  const { tone: _, ...rest } = before;
  return withStrip(song, before, tone ? { ...rest, tone } : rest);
}

/** Gives a track back the strip of one that nobody has mixed. */
export function resetStrip(song: Song, track: string): Song | string {
  if (!has(song, track)) return GONE;
  return withMix(song, (mix) =>
    mix.strips.some((strip) => strip.track === track)
      ? { ...mix, strips: mix.strips.filter((strip) => strip.track !== track) }
      : mix,
  );
}

/** Lets everything be heard: no track is muted or soloed any more. */
export function hearAll(song: Song): Song {
  return withMix(song, (mix) =>
    mix.strips.some(({ mute, solo }) => mute || solo)
      ? {
          ...mix,
          strips: mix.strips.map(({ mute: _, solo: __, ...strip }) => strip),
        }
      : mix,
  );
}

/** Sets a room or an echo. @param change what is absent stays */
export function setBus(
  song: Song,
  bus: string,
  change: Partial<Pick<BusSetting, 'level' | 'ring' | 'beats'>>,
): Song | string {
  const before = mixOf(song).buses.find(({ id }) => id === bus);
  if (!before) return 'That bus is not there any more.';
  const after = { ...before, ...change };
  if (JSON.stringify(after) === JSON.stringify(before)) return song;
  return withMix(song, (mix) => ({
    ...mix,
    buses: mix.buses.map((one) => (one === before ? after : one)),
  }));
}

/** What a track has otherwise while a section plays; nothing of it is as everywhere. */
export function setSectionStrip(
  song: Song,
  section: string,
  { track, ...change }: SectionStrip,
): Song | string {
  const here = song.sections.find(({ id }) => id === section);
  if (!here) return 'That section is not there any more.';
  if (!has(song, track)) return GONE;
  const before = here.mix?.strips ?? [];
  const others = before.filter((strip) => strip.track !== track);
  const said = Object.values(change).some((value) => value !== undefined);
  const strips = said ? [...others, { track, ...change }] : others;
  if (JSON.stringify(strips) === JSON.stringify(before)) return song;
  const { mix: _, ...rest } = here;
  const after = strips.length > 0 ? { ...rest, mix: { strips } } : rest;
  return { ...song, sections: song.sections.map((one) => (one === here ? after : one)) };
}

/** What a section says of a track; undefined where it is as everywhere. */
export function sectionStripOf(
  song: Song,
  section: string,
  track: string,
): SectionStrip | undefined {
  return song.sections
    .find(({ id }) => id === section)
    ?.mix?.strips.find((strip) => strip.track === track);
}

/** How a piece of the kit is heard before its track: its level, its place, and how much the room hears. */
export interface PieceChange {
  level?: number;
  pan?: number;
  room?: number;
}

export function setPieceSound(song: Song, piece: PieceId, change: PieceChange): Song | string {
  const before = song.kit.pieces.find(({ id }) => id === piece);
  if (!before) return 'That piece is not in the kit.';
  const after = { ...before, ...change };
  const same = (Object.keys(change) as (keyof PieceChange)[]).every(
    (key) => before[key] === change[key],
  );
  if (same) return song;
  const pieces = song.kit.pieces.map((one) => (one === before ? after : one));
  return { ...song, kit: { ...song.kit, pieces } };
}

/**
 * Plays the song with the sounds of another kit. The room goes along, where it rings as it usually does
 * with the kit before.
 */
export function chooseKit(song: Song, character: CharacterId): Song {
  const before = song.kit.character ?? 'warm';
  if (before === character) return song;
  const { character: _, ...kit } = song.kit;
  const chosen: Song = {
    ...song,
    kit: character === 'warm' ? kit : { ...kit, character },
  };
  const room = mixOf(song).buses.find(({ kind }) => kind === 'room');
  if (!room || room.ring !== KITS[before].ring) return chosen;
  return setBus(chosen, room.id, { ring: KITS[character].ring }) as Song;
}
