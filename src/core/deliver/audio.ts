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
  heardHitsPerTrack,
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
  measured?: Measured;
  /** The mix that it is a stem of, one and the same for all of them: they have one length. */
  stemOf?: HeardSong;
}

/** A song as it is heard, with a click or without. */
export interface HeardSong {
  song: Song;
  click: boolean;
}

/** How the level of a mix, and of the stems of it, is found. */
export interface Measured extends HeardSong {
  /** Up to a true peak, to a loudness, or down where it is over full scale. */
  by: Exclude<Levelling, 'mixed'> | 'fit';
  /** In dB or LUFS; unused to fit. */
  target: number;
  /** Stems that must not be over full scale either. */
  stems?: readonly HeardSong[];
}

/** A ceiling, in dB, at which a limiter does nothing. */
const UNBOUNDED = Infinity;

/** A bus that changes nothing that is not over full scale. */
const NEUTRAL: DrumBus = { ceiling: 0 };

/** The files that a part comes to, the mix first. */
export function audioParts(wish: AudioWish, part: NamedPart): AudioPart[] {
  const heard = mixedFor(part.song, wish);
  const { click, ending, level, addUp } = wish;
  const whole: HeardSong = { song: wish.guides ? heard : { ...heard, guides: [] }, click };
  const stems = wish.stems ? stemsOf(whole) : [];
  const exact = addUp && wish.stems;
  const measured: Measured | undefined =
    level === 'mixed' && !exact
      ? undefined
      : {
          ...whole,
          by: level === 'mixed' ? 'fit' : level,
          target: level === 'mixed' ? 0 : wish[level],
          ...(exact && { stems: stems.map(({ song, click }) => ({ song, click })) }),
        };
  const common = {
    seconds: tempoOfSong(heard).secondsAt(songTicks(heard)),
    ending,
    ...(measured && { measured }),
    ...(stems.length > 0 && { stemOf: whole }),
  };
  const parts: AudioPart[] = [];
  if (wish.mix) {
    parts.push({ ...common, ...whole, file: part.file, hits: sumOf(heard) });
  }
  stems.forEach(({ name, ...stem }, i) => {
    const file = `${part.file}, ${String(i + 1).padStart(2, '0')} ${inOne(name)}`;
    parts.push({ ...common, ...stem, file });
  });
  if (exact && wish.bus) {
    // The bus beside what adds up without it, as it is mixed.
    const { measured: _, ...asMixed } = common;
    const song = { ...mixedFor(part.song, { ...wish, addUp: false }), guides: [] };
    const file = `${part.file}, drum bus`;
    parts.push({ ...asMixed, file, track: 'bus', song, click: false, hits: sumOf(song) });
  }
  return parts;
}

/** Strokes that are heard in a song. */
const sumOf = (song: Song): number =>
  [...heardHitsPerTrack(song).values()].reduce((sum, count) => sum + count, 0);

type Stem = Pick<AudioPart, 'track' | 'song' | 'click' | 'hits'> & { name: string };

/** The stems of a mix: each track that is heard in it, its guides, and its click. */
function stemsOf({ song, click }: HeardSong): Stem[] {
  const [struck, hits, audible] = [hitsPerTrack(song), heardHitsPerTrack(song), heardTracks(song)];
  // A track may ring on from where it is muted: it is a stem if it is struck at all.
  const stems = layoutOf(song)
    .tracks.filter(({ id }) => (struck.get(id) ?? 0) > 0 && audible.has(id))
    .map(({ id, name }): Stem => {
      const only = onlyTrack(song, id);
      return { name, track: id, song: only, click: false, hits: hits.get(id) ?? 0 };
    });
  const none = onlyTrack(song, undefined);
  if (song.guides.length > 0) {
    const guides = { ...none, guides: song.guides };
    stems.push({ name: 'Reference parts', track: 'guides', song: guides, click: false, hits: 0 });
  }
  if (click) stems.push({ name: 'Click', track: 'click', song: none, click, hits: 0 });
  return stems;
}

/** The song mixed as a wish has it. @param ceiling what no sample passes where there is no bus, in dB */
export function mixedFor(
  song: Song,
  wish: Pick<AudioWish, 'effects' | 'bus' | 'mutes'> & Partial<Pick<AudioWish, 'addUp' | 'stems'>>,
  ceiling = NEUTRAL.ceiling,
): Song {
  const { effects, bus, mutes } = wish;
  const mix = mixOf(song);
  const strips = mix.strips.map((strip): StripSetting => {
    const { mute: _, solo: __, ...plain } = strip;
    return mutes ? strip : plain;
  });
  const exact = wish.addUp === true && wish.stems === true;
  const drums = exact ? { ceiling: UNBOUNDED } : bus ? drumsOf(song) : { ceiling };
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
