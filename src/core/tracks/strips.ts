import { Latest } from '../memo';
import {
  layoutOf,
  KITS,
  neutralStrip,
  roomOf,
  USUAL_DRUMS,
  trackOfHit,
  usualMix,
  type BusSetting,
  type DrumBus,
  type Dynamics,
  type Hit,
  type Mix,
  type Pattern,
  type Routed,
  type SectionStrip,
  type Song,
  type StripSetting,
  type Tone,
} from '../model';
import type { Seconds } from '../time';
import type { Chain } from './tone';

const unmixed = new Latest<{ layout: string; like: Mix | undefined }, Mix>(4, 1);

/**
 * The mix of the layout in use. One that nobody has mixed has its tracks as they are; rooms, echoes and the
 * bus of all drums are those of the song's other mixes.
 */
export function mixOf(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>): Mix {
  const { id } = layoutOf(song);
  const found = song.mixes.find(({ layout }) => layout === id);
  if (found) return found;
  const [like] = song.mixes;
  return unmixed.of(
    '',
    (known) => known.layout === id && known.like === like,
    { layout: id, like },
    () => ({ ...(like ?? usualMix(id)), layout: id, strips: [] }),
  );
}

/** The strip of a track, as it is heard where no section says otherwise. */
export function stripOf(
  song: Pick<Song, 'layouts' | 'layout' | 'mixes'>,
  track: string,
): StripSetting {
  return mixOf(song).strips.find((strip) => strip.track === track) ?? neutralStrip(track);
}

/**
 * The strips of the tracks that the layout in use has, in their order. A mix may hold strips of tracks that
 * are gone: they are not heard, and neither mute nor solo anything.
 */
export function stripsOf(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>): StripSetting[] {
  const { strips } = mixOf(song);
  return layoutOf(song).tracks.map(
    ({ id }) => strips.find(({ track }) => track === id) ?? neutralStrip(id),
  );
}

/** The song with another mix of the layout in use. */
export function withMix(song: Song, change: (mix: Mix) => Mix): Song {
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

/**
 * The tracks that are heard somewhere in the song: those that are not silent, and those that a section which
 * is played lets be heard.
 */
export function heardTracks(song: Song): Set<string> {
  const strips = stripsOf(song);
  const heard = strips.filter((strip) => !isSilent(strip, strips)).map(({ track }) => track);
  const played = new Set(song.places.map(({ section }) => section));
  const unmuted = song.sections
    .filter(({ id }) => played.has(id))
    .flatMap(({ mix }) => mix?.strips ?? [])
    .filter(({ mute }) => mute === false)
    .map(({ track }) => track);
  const there = new Set(strips.map(({ track }) => track));
  return new Set([...heard, ...unmuted.filter((track) => there.has(track))]);
}

/** A hit as it is played somewhere in the song. */
type PlayedHit = Routed & { place: string };

/**
 * Which hits are heard where they are played: of tracks that are not silent, as the section of the hit has
 * them. @returns undefined where every hit is heard
 */
export function heardBy(song: Song): ((hit: PlayedHit) => boolean) | undefined {
  const layout = layoutOf(song);
  const strips = stripsOf(song);
  const silent = new Set(
    strips.filter((strip) => isSilent(strip, strips)).map(({ track }) => track),
  );
  const mutes = new Map(
    song.sections.map(({ id, mix }) => [
      id,
      new Map(
        mix?.strips.flatMap(({ track, mute }) => (mute === undefined ? [] : [[track, mute]])),
      ),
    ]),
  );
  if (silent.size === 0 && [...mutes.values()].every(({ size }) => size === 0)) return undefined;
  const sectionOf = new Map(song.places.map(({ id, section }) => [id, section]));
  return (hit) => {
    const track = trackOfHit(layout, song.kit, hit);
    const here = mutes.get(sectionOf.get(hit.place) ?? '')?.get(track);
    return !(here ?? silent.has(track));
  };
}

/** Tone and dynamics that are set; `null` takes them out. */
export interface ChainChange {
  tone?: Tone | null;
  dynamics?: Dynamics | null;
}

/** What of a strip is set; what is absent stays. */
export interface StripChange extends ChainChange {
  level?: number;
  pan?: number;
  mute?: boolean;
  solo?: boolean;
  flip?: boolean;
  drive?: number;
  dry?: number;
  /** 1 is the pair of all drums. */
  output?: number;
}

/** Values that say nothing are not written down. */
const NOTHING: readonly unknown[] = [undefined, null, false];

/** What a strip has where nothing is said. */
const USUAL: Readonly<Record<string, unknown>> = { drive: 0, dry: 0, output: 1 };

/** A setting with what was changed of it; of what was taken out or switched off nothing is left. */
function changed<T extends object>(before: T, change: object): T {
  const after = Object.entries({ ...before, ...change }).filter(
    ([name, value]) => !NOTHING.includes(value) && USUAL[name] !== value,
  );
  return Object.fromEntries(after) as T;
}

/** Sets what a track of the layout in use is heard through. */
export function setStrip(song: Song, track: string, change: StripChange): Song | string {
  if (!has(song, track)) return GONE;
  const before = stripOf(song, track);
  const said = Object.entries(change).filter(([, value]) => value !== undefined);
  return withStrip(song, before, changed(before, Object.fromEntries(said)));
}

/** Gives a track all that another strip is, but for muting and hearing it alone. */
export function copyStrip(song: Song, track: string, from: StripSetting): Song | string {
  if (!has(song, track)) return GONE;
  const before = stripOf(song, track);
  const { mute, solo } = before;
  const { mute: _, solo: __, ...rest } = from;
  const { buses } = mixOf(song);
  const sends = from.sends.filter(({ bus }) => buses.some(({ id }) => id === bus));
  return withStrip(song, before, {
    ...rest,
    track,
    sends,
    ...(mute && { mute }),
    ...(solo && { solo }),
  });
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

/**
 * The song with what is soloed as its strokes sound by themselves: past the rooms, the echoes and the bus of
 * all drums. Nothing is kept of it. The very same song where nothing is soloed.
 */
export function soloedDry(song: Song): Song {
  if (!stripsOf(song).some(({ solo }) => solo)) return song;
  return withMix(withoutEffects(song), (mix) => ({
    ...mix,
    strips: mix.strips.map((strip) => (strip.solo ? { ...strip, dry: 1 } : strip)),
  }));
}

/**
 * The song without rooms and echoes: nothing is sent to them, not by a track, not by a track in a section,
 * not by a piece, and not by a single hit.
 */
export function withoutEffects(song: Song): Song {
  const dry = withMix(song, (mix) => ({
    ...mix,
    strips: mix.strips.map((strip) => (strip.sends.length > 0 ? { ...strip, sends: [] } : strip)),
    // Notes that no piece of the kit has go to the room too.
    buses: mix.buses.map((bus) => ({ ...bus, level: 0 })),
  }));
  const sections = mapped(song.sections, (section) => {
    if (!section.mix?.strips.some(({ sends }) => sends)) return section;
    const strips = section.mix.strips.map(({ sends: _, ...strip }) => strip);
    return { ...section, mix: { ...section.mix, strips } };
  });
  const pieces = song.kit.pieces.map((piece) =>
    roomOf(piece) > 0 ? { ...piece, room: 0 } : piece,
  );
  return {
    ...dry,
    sections,
    kit: { ...song.kit, pieces },
    patterns: mapped(song.patterns, withoutSends),
  };
}

/** A list with a change; the very same list where nothing of it changes. */
function mapped<T>(list: T[], change: (one: T) => T): T[] {
  const after = list.map(change);
  return after.every((one, i) => one === list[i]) ? list : after;
}

const sendsItself = ({ room, echo }: Hit) => Boolean(room || echo);

/** The pattern without what its hits send to a room and an echo by themselves. */
function withoutSends(pattern: Pattern): Pattern {
  if (!pattern.strands.some(({ hits }) => hits.some(sendsItself))) return pattern;
  const plain = (hit: Hit): Hit => {
    if (!sendsItself(hit)) return hit;
    const { room: _, echo: __, ...rest } = hit;
    return rest;
  };
  const strands = pattern.strands.map((strand) =>
    strand.hits.some(sendsItself) ? { ...strand, hits: strand.hits.map(plain) } : strand,
  );
  return { ...pattern, strands };
}

/** Sets a room or an echo, in every mix of the song: it stands in one room. @param change what is absent stays */
export function setBus(
  song: Song,
  bus: string,
  change: Partial<Pick<BusSetting, 'level' | 'ring' | 'beats'>>,
): Song | string {
  const before = mixOf(song).buses.find(({ id }) => id === bus);
  if (!before) return 'That bus is not there any more.';
  const after = { ...before, ...change };
  if (JSON.stringify(after) === JSON.stringify(before)) return song;
  return inAll(song, (mix) => ({
    ...mix,
    buses: mix.buses.map((one) => (one.id === bus ? { ...one, ...change } : one)),
  }));
}

/** What a track is heard through; without one, what all drums are heard through. */
export function chainOf(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>, track?: string): Chain {
  return track === undefined ? drumsOf(song) : stripOf(song, track);
}

/** How long the room of a song rings, in seconds; the usual one where it has none. */
export function roomRing(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>): Seconds {
  return mixOf(song).buses.find(({ kind }) => kind === 'room')?.ring ?? KITS.warm.ring;
}

/** The bus of all drums. */
export function drumsOf(song: Pick<Song, 'layouts' | 'layout' | 'mixes'>): DrumBus {
  return mixOf(song).drums ?? USUAL_DRUMS;
}

/**
 * Sets the bus of all drums, in every mix of the song.
 * @param change what is absent stays; `tone` and `dynamics` are taken out by `null`
 */
export function setDrums(
  song: Song,
  change: Partial<Omit<DrumBus, 'tone' | 'dynamics'>> & ChainChange,
): Song {
  const before = drumsOf(song);
  const after = changed(before, change);
  if (JSON.stringify(after) === JSON.stringify(before)) return song;
  return inAll(song, (mix) => ({ ...mix, drums: after }));
}

/** Changes every mix of the song, that of the layout in use too if it has none of its own yet. */
function inAll(song: Song, change: (mix: Mix) => Mix): Song {
  const now = mixOf(song);
  const mixes = song.mixes.includes(now) ? song.mixes : [...song.mixes, now];
  return { ...song, mixes: mixes.map(change) };
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
  const said = Object.entries(change).filter(([, value]) => value !== undefined);
  // How long it takes to get there is nothing by itself.
  const otherwise = said.some(([name]) => name !== 'ramp');
  const strips = otherwise ? [...others, { track, ...Object.fromEntries(said) }] : others;
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
