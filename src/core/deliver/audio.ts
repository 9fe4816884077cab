import {
  layoutOf,
  neutralStrip,
  roomOf,
  type DrumBus,
  type Kit,
  type Mix,
  type Song,
  type StripSetting,
} from '../model';
import { songTicks, tempoOfSong } from '../weave';
import { drumsOf, hitsPerTrack, isSilent, mixOf } from '../tracks';
import type { Seconds } from '../time';
import { partOf, type PartWish } from './part';

/** What of a song is handed over as sound. */
export interface AudioWish extends Pick<PartWish, 'pattern' | 'place'> {
  /** All together, and each track of the layout in use by itself. */
  mix: boolean;
  stems: boolean;
  /** With rooms and echoes; without, each stroke is as it is struck. */
  effects: boolean;
  /** Through the bus of all drums; without, stems add up to the mix. */
  bus: boolean;
  /** What is muted, or silenced by a solo, stays so. */
  mutes: boolean;
  /** The guides are in the mix. */
  guides: boolean;
  /** It rings out after its last bar; without, it ends with it. */
  tail: boolean;
}

export const USUAL_WISH: AudioWish = {
  mix: true,
  stems: false,
  effects: true,
  bus: true,
  mutes: true,
  guides: false,
  tail: true,
};

/** A file of sound: what is heard in it, as a song that is rendered from its beginning. */
export interface AudioPart {
  /** Without an ending. */
  name: string;
  /** Absent is the mix. */
  track?: string;
  song: Song;
  /** So long without its tail. */
  seconds: Seconds;
  tail: boolean;
  /** Strokes in it. */
  hits: number;
}

/** A bus that changes nothing that is not over full scale. */
const NEUTRAL: DrumBus = { ceiling: 0 };

/** The files that a wish comes to, the mix first. */
export function audioParts(song: Song, wish: AudioWish): AudioPart[] {
  const part = partOf(song, wish);
  const called = part.name === undefined ? song.name : `${song.name}, ${part.name}`;
  const heard = mixedFor(part.song, wish);
  const end = songTicks(heard);
  const seconds = tempoOfSong(heard).secondsAt(end);
  const hits = hitsPerTrack(heard);
  const { tracks } = layoutOf(heard);
  const { strips } = mixOf(heard);
  const stripOf = (id: string) => strips.find(({ track }) => track === id) ?? neutralStrip(id);
  const sounding = tracks.filter(
    ({ id }) => (hits.get(id) ?? 0) > 0 && !isSilent(stripOf(id), strips),
  );
  const count = sounding.reduce((sum, { id }) => sum + (hits.get(id) ?? 0), 0);
  const parts: AudioPart[] = [];
  const { tail } = wish;
  if (wish.mix) {
    const whole = wish.guides ? heard : { ...heard, guides: [] };
    parts.push({ name: called, song: whole, seconds, tail, hits: count });
  }
  if (wish.stems) {
    for (const [i, { id, name }] of sounding.entries()) {
      parts.push({
        name: `${called}, ${String(i + 1).padStart(2, '0')} ${name}`,
        track: id,
        song: onlyTrack(heard, id),
        seconds,
        tail,
        hits: hits.get(id) ?? 0,
      });
    }
  }
  return parts;
}

/** The song mixed as a wish has it. */
function mixedFor(song: Song, { effects, bus, mutes }: AudioWish): Song {
  const mix = mixOf(song);
  const strips = mix.strips.map((strip): StripSetting => {
    const { mute: _, solo: __, ...plain } = strip;
    const kept = mutes ? strip : plain;
    return effects ? kept : { ...kept, sends: [] };
  });
  const drums = bus ? drumsOf(song) : NEUTRAL;
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

/** The song with one track of it, with its rooms and echoes, and nothing else. */
function onlyTrack(song: Song, track: string): Song {
  const mix = mixOf(song);
  const strips = layoutOf(song).tracks.map(({ id }): StripSetting => {
    const strip = mix.strips.find((one) => one.track === id) ?? neutralStrip(id);
    const { mute: _, solo: __, ...plain } = strip;
    return id === track ? plain : { ...plain, mute: true };
  });
  return { ...withMix(song, { ...mix, strips }), guides: [] };
}
