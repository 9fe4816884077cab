import {
  layoutOf,
  type DrumBus,
  type Mix,
  type Section,
  type Song,
  type StripSetting,
} from '../model';
import { inOne } from '../names';
import { songTicks, tempoOfSong } from '../weave';
import {
  drumsOf,
  heardTracks,
  hitsPerTrack,
  isSilent,
  mixOf,
  stripsOf,
  withMix,
  withoutEffects,
} from '../tracks';
import type { Seconds, Ticks } from '../time';
import type { AudioWish, Ending, Levelling } from '../wishes';
import type { NamedPart } from './part';

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
  const audible = heardTracks(heard);
  const sounding = tracks.filter(({ id }) => (hits.get(id) ?? 0) > 0 && audible.has(id));
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
    return mutes ? strip : plain;
  });
  const drums = bus ? drumsOf(song) : { ceiling };
  const mixed: Mix = { ...mix, strips, drums };
  const whole = withMix(song, () => mixed);
  const heard = mutes ? whole : withoutSectionMutes(whole);
  return effects ? heard : withoutEffects(heard);
}

/** The song in which no section mutes a track: all of it is heard. */
function withoutSectionMutes(song: Song): Song {
  const sections = song.sections.map((section): Section => {
    if (!section.mix?.strips.some(({ mute }) => mute !== undefined)) return section;
    const strips = section.mix.strips.map(({ mute: _, ...strip }) => strip);
    return { ...section, mix: { ...section.mix, strips } };
  });
  return { ...song, sections };
}

/**
 * The song with one track of it, or none, with its rooms and echoes, and nothing else.
 * @param withMutes a track that is silent is heard only where a section lets it be heard
 */
export function onlyTrack(song: Song, track: string | undefined, withMutes = true): Song {
  const mix = mixOf(song);
  const before = stripsOf(song);
  const strips = before.map((strip): StripSetting => {
    const { mute: _, solo: __, ...plain } = strip;
    // A track that is silent but where a section lets it be heard stays so.
    const heard = strip.track === track && (!withMutes || !isSilent(strip, before));
    return heard ? plain : { ...plain, mute: true };
  });
  // A section may let others be heard.
  const sections = song.sections.map((section): Section => {
    if (!section.mix) return section;
    const own = section.mix.strips
      .filter((strip) => strip.track === track)
      .map(({ mute, ...strip }) => (withMutes && mute !== undefined ? { ...strip, mute } : strip));
    return { ...section, mix: { ...section.mix, strips: own } };
  });
  return { ...withMix(song, () => ({ ...mix, strips })), sections, guides: [] };
}
