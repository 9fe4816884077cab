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

/** Where the mix of a track sets out for at a moment. It gets there in straight lines, unless the next one comes first. */
export interface TrackMotion {
  at: Seconds;
  /** When it is there; the moment itself where it is there at once. */
  until: Seconds;
  /** Factors of its sides; 0 where the track is silent. */
  left: number;
  right: number;
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

type Mixed = Omit<TrackMotion, 'at' | 'until'>;

function motionsOf(song: Song, tempo: TempoMap): Map<string, TrackMotion[]> {
  const { buses } = mixOf(song);
  const strips = stripsOf(song);
  const places = laidPlaces(song);
  return new Map(
    strips.map((strip) => {
      const isMuted = isSilent(strip, strips);
      const own = mixedAs(strip, isMuted, buses, strip.sends);
      const motions: TrackMotion[] = [{ at: 0, until: 0, ...own }];
      for (const { section, start } of places) {
        const told = toldIn(section, strip.track);
        const at = tempo.secondsAt(start);
        const until = tempo.secondsAt(start + (told?.ramp ?? 0) * PPQ);
        const there = told ? mixedIn(told, strip, isMuted, buses) : own;
        push(motions, { at, until, ...there });
      }
      return [strip.track, motions];
    }),
  );
}

const toldIn = (section: Section, track: string): SectionStrip | undefined =>
  section.mix?.strips.find((strip) => strip.track === track);

/** Its sides are panned at equal power, and left as they are in the middle. */
function mixedAs(
  { level, pan, flip }: StripSetting,
  isMuted: boolean,
  buses: readonly BusSetting[],
  sends: readonly Send[],
): Mixed {
  const share = (bus: string) => sends.find((send) => send.bus === bus)?.level ?? 0;
  const factor = isMuted ? 0 : flip ? -level : level;
  const angle = ((pan + 1) * Math.PI) / 4;
  return {
    left: pan === 0 ? factor : factor * Math.cos(angle) * Math.SQRT2,
    right: pan === 0 ? factor : factor * Math.sin(angle) * Math.SQRT2,
    sends: buses.map(({ id }) => share(id)),
  };
}

/** The mix of a track in a section: the section's own values, and the track's own for the rest. */
function mixedIn(
  { level, pan, mute, sends = [] }: SectionStrip,
  strip: StripSetting,
  isMuted: boolean,
  buses: readonly BusSetting[],
): Mixed {
  const all = [...sends, ...strip.sends];
  const there = { ...strip, level: level ?? strip.level, pan: pan ?? strip.pan };
  return mixedAs(there, mute ?? isMuted, buses, all);
}

/** Adds where the mix sets out for, unless it is there already, or is on its way there just so. */
function push(motions: TrackMotion[], next: TrackMotion): void {
  const last = motions.at(-1)!;
  const isSame =
    last.left === next.left &&
    last.right === next.right &&
    last.sends.every((send, i) => send === next.sends[i]);
  const isThere = about(last.until) <= about(next.at);
  if (isSame && (isThere || about(last.until) === about(next.until))) return;
  motions.push(next);
}

/** How a track is mixed at a moment: the values that its motions have reached. */
export function mixedAt(motions: readonly TrackMotion[], at: Seconds): Mixed {
  const [first, ...rest] = motions;
  let set = first;
  let from: Mixed = first;
  for (const next of rest) {
    if (next.at > at) break;
    from = between(from, set, next.at);
    set = next;
  }
  return between(from, set, at);
}

/** Where a motion that set out from some values is at a moment. */
function between(from: Mixed, { at, until, ...to }: TrackMotion, now: Seconds): Mixed {
  const share = until > at ? Math.min(1, (now - at) / (until - at)) : 1;
  const move = (a: number, b: number) => a + (b - a) * share;
  return {
    left: move(from.left, to.left),
    right: move(from.right, to.right),
    sends: to.sends.map((send, i) => move(from.sends[i], send)),
  };
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
        const moves = motions
          .get(track)!
          .map(({ at, until, ...mix }) => ({ at: about(at), until: about(until), ...mix }));
        return [track, JSON.stringify([rest, moves])];
      },
    ),
  );
  const lines = hits.map(({ at, velocity, sound, touch, choke, piece, track }) =>
    JSON.stringify([about(at), velocity, sound, touch ?? null, choke, piece, mixes.get(track)]),
  );
  return [...lines.sort(), JSON.stringify([buses, drums, about(end)])];
}
