import {
  layoutOf,
  neutralStrip,
  roomOf,
  type DrumBus,
  type Kit,
  type Mix,
  type Section,
  type Song,
  type StripSetting,
} from '../model';
import { songTicks, tempoOfSong } from '../weave';
import { drumsOf, hitsPerTrack, isSilent, mixOf } from '../tracks';
import type { Seconds, Ticks } from '../time';
import type { AudioWish, Ending, Levelling } from '../wishes';
import { inOne, type NamedPart } from './part';

/** A file of sound: what is heard in it, as a song that is rendered from its beginning. */
export interface AudioPart {
  /** Without an ending; folders before it are set apart by `/`. */
  file: string;
  /** Absent is the mix. */
  track?: string;
  song: Song;
  click: boolean;
  /** So long without its tail. */
  seconds: Seconds;
  ending: Ending;
  /** Strokes in it. */
  hits: number;
  /** Only the strokes of these steps of the song, from so long before them on; absent is all. */
  within?: { from: Ticks; to: Ticks; lead: Ticks };
  /** What its level is measured by: the mix it belongs to, so that stems keep their levels to each other. */
  measured?: { song: Song; click: boolean; by: Exclude<Levelling, 'mixed'>; target: number };
}

/** A bus that changes nothing that is not over full scale. */
const NEUTRAL: DrumBus = { ceiling: 0 };

/** The files that a part comes to, the mix first. */
export function audioParts(wish: AudioWish, part: NamedPart): AudioPart[] {
  const heard = mixedFor(part.song, wish);
  const seconds = tempoOfSong(heard).secondsAt(songTicks(heard));
  const hits = hitsPerTrack(heard);
  const { tracks } = layoutOf(heard);
  const { strips } = mixOf(heard);
  const stripOf = (id: string) => strips.find(({ track }) => track === id) ?? neutralStrip(id);
  const sounding = tracks.filter(
    ({ id }) => (hits.get(id) ?? 0) > 0 && !isSilent(stripOf(id), strips),
  );
  const { click, ending, level } = wish;
  const whole = wish.guides ? heard : { ...heard, guides: [] };
  const common = {
    seconds,
    ending,
    ...(level !== 'mixed' && {
      measured: { song: whole, click, by: level, target: wish[level] },
    }),
  };
  const parts: AudioPart[] = [];
  if (wish.mix) {
    const count = sounding.reduce((sum, { id }) => sum + (hits.get(id) ?? 0), 0);
    parts.push({ ...common, file: part.file, song: whole, click, hits: count });
  }
  if (!wish.stems) return parts;
  const stem = (name: string) => `${part.file}, ${String(++stems).padStart(2, '0')} ${inOne(name)}`;
  let stems = 0;
  for (const { id, name } of sounding) {
    const song = onlyTrack(heard, id);
    const count = hits.get(id) ?? 0;
    parts.push({ ...common, file: stem(name), track: id, song, click: false, hits: count });
  }
  if (click) {
    const song = onlyTrack(heard, undefined);
    parts.push({ ...common, file: stem('Click'), track: 'click', song, click, hits: 0 });
  }
  return parts;
}

/** The song mixed as a wish has it. @param ceiling what no sample passes where there is no bus, in dB */
export function mixedFor(
  song: Song,
  { effects, bus, mutes }: Pick<AudioWish, 'effects' | 'bus' | 'mutes'>,
  ceiling = NEUTRAL.ceiling,
): Song {
  const mix = mixOf(song);
  const strips = mix.strips.map((strip): StripSetting => {
    const { mute: _, solo: __, ...plain } = strip;
    const kept = mutes ? strip : plain;
    return effects ? kept : { ...kept, sends: [] };
  });
  const drums = bus ? drumsOf(song) : { ceiling };
  const mixed: Mix = { ...mix, strips, drums };
  return { ...withMix(song, mixed), ...(!effects && { kit: withoutRoom(song.kit) }) };
}

function withMix(song: Song, mix: Mix): Song {
  return { ...song, mixes: [mix, ...song.mixes.filter(({ layout }) => layout !== mix.layout)] };
}

function withoutRoom(kit: Kit): Kit {
  const pieces = kit.pieces.map((piece) => (roomOf(piece) > 0 ? { ...piece, room: 0 } : piece));
  return { ...kit, pieces };
}

/** The song with one track of it, or none, with its rooms and echoes, and nothing else. */
export function onlyTrack(song: Song, track: string | undefined): Song {
  const mix = mixOf(song);
  const strips = layoutOf(song).tracks.map(({ id }): StripSetting => {
    const strip = mix.strips.find((one) => one.track === id) ?? neutralStrip(id);
    const { mute: _, solo: __, ...plain } = strip;
    return id === track ? plain : { ...plain, mute: true };
  });
  // A section may let others be heard.
  const sections = song.sections.map((section): Section => {
    if (!section.mix) return section;
    const own = section.mix.strips.filter((strip) => strip.track === track);
    return { ...section, mix: { ...section.mix, strips: own } };
  });
  return { ...withMix(song, { ...mix, strips }), sections, guides: [] };
}
