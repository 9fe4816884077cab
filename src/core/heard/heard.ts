import {
  articulationOf,
  designOf,
  findPiece,
  layoutOf,
  roomOf,
  soundOf,
  trackOfHit,
  type BusSetting,
  type DrumBus,
  type Section,
  type SectionStrip,
  type Send,
  type Song,
  type StripSetting,
} from '../model';
import { PPQ, type Seconds, type TempoMap, type Velocity } from '../time';
import { drumsOf, isSilent, mixOf, roomRing, stripsOf } from '../tracks';
import { laidPlaces, tempoOfSong, timeline, type TimedHit, type Touch } from '../weave';

/** How a track is mixed from a moment on. A value that ramps moves to the next entry's in a straight line. */
export interface TrackMotion {
  at: Seconds;
  /** Factor; 0 where the track is silent. */
  level: number;
  pan: number;
  /** By bus, in their order. */
  sends: readonly number[];
}

/** A stroke as it is heard. */
export interface HeardHit {
  at: Seconds;
  velocity: Velocity;
  /** All that decides its sound, as JSON: see `designOf`. */
  sound: string;
  /** What is done to its sound; a choke and a swell are in `Touch`'s own units. */
  touch: Touch | undefined;
  /** Strokes of one group cut each other off; 0 is no group. */
  choke: number;
  /** How its piece is heard before any track: level, pan, filters, and how much of it the room hears. */
  piece: { level: number; pan: number; filters: string; room: number };
  track: string;
}

/** All that decides what a song sounds like. */
export interface Heard {
  hits: readonly HeardHit[];
  /** Strips as they are everywhere, but for what moves, which is in `motions`. */
  strips: ReadonlyMap<string, StripSetting>;
  /** By track: only what changes, in order of time, the first entry at 0. */
  motions: ReadonlyMap<string, readonly TrackMotion[]>;
  buses: readonly BusSetting[];
  drums: DrumBus;
  end: Seconds;
}

/**
 * The audible content of a song: every hit with its time, strength and sound, the treatment of its piece, and the level,
 * pan, sends and mutes of its track as they move. Computed from the values of the song alone and not by way of the
 * engine, so that the engine, files and sentences can be held against it. Reference parts are not drums, and not
 * in it.
 */
export function heard(song: Song): Heard {
  const tempo = tempoOfSong(song);
  const { buses } = mixOf(song);
  const strips = new Map(stripsOf(song).map((strip) => [strip.track, strip]));
  const laid = laidPlaces(song);
  return {
    hits: hitsOf(song, tempo),
    strips,
    motions: motionsOf(song, tempo),
    buses,
    drums: drumsOf(song),
    end: tempo.secondsAt(laid.at(-1)?.end ?? 0),
  };
}

function hitsOf(song: Song, tempo: TempoMap): HeardHit[] {
  const { kit } = song;
  const layout = layoutOf(song);
  const ring = roomRing(song);
  // Few ways of striking stand for many hits.
  const ways = new Map<string, Pick<HeardHit, 'sound' | 'choke' | 'piece'>>();
  const wayOf = ({ piece, articulation }: TimedHit) => {
    const key = `${piece}/${articulation}`;
    const known = ways.get(key);
    if (known) return known;
    const found = findPiece(piece, kit);
    const way = {
      sound: JSON.stringify(designOf(kit, soundOf(piece, articulation, kit), ring)),
      choke: articulationOf(piece, articulation, kit).choke ?? 0,
      piece: {
        level: found?.level ?? 1,
        pan: found?.pan ?? 0,
        filters: JSON.stringify(found?.filters ?? []),
        room: found ? roomOf(found) : 0.5,
      },
    };
    ways.set(key, way);
    return way;
  };
  return timeline(song).map((hit): HeardHit => {
    const { tick, velocity, touch } = hit;
    const track = trackOfHit(layout, kit, hit);
    return { at: tempo.secondsAt(tick), velocity, touch, track, ...wayOf(hit) };
  });
}

type Mixed = Omit<TrackMotion, 'at'>;

function motionsOf(song: Song, tempo: TempoMap): Map<string, TrackMotion[]> {
  const { buses } = mixOf(song);
  const strips = stripsOf(song);
  const places = laidPlaces(song);
  return new Map(
    strips.map((strip) => {
      const own = mixedAs(strip, isSilent(strip, strips), buses, strip.sends);
      const motions: TrackMotion[] = [{ at: 0, ...own }];
      for (const { section, start, end } of places) {
        const told = toldIn(section, strip.track);
        const from = tempo.secondsAt(start);
        if (!told) {
          push(motions, { at: from, ...own });
          continue;
        }
        const until = tempo.secondsAt(Math.min(end, start + (told.ramp ?? 0) * PPQ));
        const there = mixedIn(told, strip, own, buses);
        // A ramp begins with what was heard before it.
        if (until > from) push(motions, { ...motions.at(-1)!, at: from });
        push(motions, { at: until, ...there });
      }
      return [strip.track, motions];
    }),
  );
}

const toldIn = (section: Section, track: string): SectionStrip | undefined =>
  section.mix?.strips.find((strip) => strip.track === track);

function mixedAs(
  { level, pan, flip }: StripSetting,
  silent: boolean,
  buses: readonly BusSetting[],
  sends: readonly Send[],
): Mixed {
  const share = (bus: string) => sends.find((send) => send.bus === bus)?.level ?? 0;
  return {
    level: silent ? 0 : flip ? -level : level,
    pan,
    sends: buses.map(({ id }) => share(id)),
  };
}

/** The mix of a track in a section: the section's own values, and the track's own for the rest. */
function mixedIn(
  { level, pan, mute, sends = [] }: SectionStrip,
  strip: StripSetting,
  own: Mixed,
  buses: readonly BusSetting[],
): Mixed {
  const silent = mute ?? own.level === 0;
  const all = [...sends, ...strip.sends];
  return mixedAs(
    { ...strip, level: level ?? strip.level, pan: pan ?? strip.pan },
    silent,
    buses,
    all,
  );
}

/** Adds what is heard from a moment on, if it is anything else than before. */
function push(motions: TrackMotion[], next: TrackMotion): void {
  const last = motions.at(-1)!;
  const isSame =
    last.level === next.level &&
    last.pan === next.pan &&
    last.sends.every((send, i) => send === next.sends[i]);
  if (isSame) return;
  if (last.at === next.at && motions.length > 1) motions.pop();
  motions.push(next);
}

/** Rounds what differs by how it was computed, far below what can be heard: a hundredth of a sample. */
const about = (seconds: Seconds) => Math.round(seconds * 4_800_000) / 4_800_000;

/**
 * The audible content as lines that can be compared: two songs that give the same lines sound the same, whatever their
 * patterns, sections and tracks are called and however hits are shared out among tracks that are mixed alike.
 */
export function heardKeys(song: Song): string[] {
  const { hits, strips, motions, buses, drums, end } = heard(song);
  const mixes = new Map(
    [...strips].map(
      ([
        track,
        { track: _, level: __, pan: ___, mute: ____, solo: _____, sends: ______, ...rest },
      ]) => {
        const moves = motions.get(track)!.map(({ at, ...mix }) => ({ at: about(at), ...mix }));
        return [track, JSON.stringify([rest, moves])];
      },
    ),
  );
  const lines = hits.map(({ at, velocity, sound, touch, choke, piece, track }) =>
    JSON.stringify([about(at), velocity, sound, touch ?? null, choke, piece, mixes.get(track)]),
  );
  return [...lines.sort(), JSON.stringify([buses, drums, about(end)])];
}
