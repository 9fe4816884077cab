import type { Song } from '../model';
import { mixedFor, onlyTrack, type AudioPart } from '../deliver';
import type { Ticks } from '../time';
import { laidPlaces, tempoOfSong } from '../weave';
import { bouncedHits, bouncedName, whyNotBounced, type Bounce } from './bounced';

/** No sample comes near it, in dB. */
const UNBOUNDED = 60;

/** What is rendered of a place before it is laid into it. */
export interface BouncePart {
  part: AudioPart;
  /** See `Bounce`. */
  lead: Ticks;
}

/**
 * What is rendered: the place, or a track in it, as it is heard there, with its rooms and echoes until they have
 * rung out, before the bus of all drums; the song sends it through that once it is laid.
 */
export function bouncePart(song: Song, of: Pick<Bounce, 'place' | 'track'>): BouncePart | string {
  const why = whyNotBounced(song, of);
  if (why !== undefined) return why;
  const { section, start, end } = laidPlaces(song).find(({ place }) => place.id === of.place)!;
  const { hits } = bouncedHits(song, of);
  const begins = hits.map(({ tick, touch }) => Math.max(0, tick - (touch?.swell ?? 0)));
  const lead = begins.reduce((most, tick) => Math.max(most, start - tick), 0);
  // Samples that are kept may be over full scale: the bus that they go through holds them back.
  const mixed = mixedFor(song, { effects: true, bus: false, mutes: true }, UNBOUNDED);
  // A muted track is silenced by the strip of its bounce, unless the section lets it in, perhaps by a ramp.
  const told = section.mix?.strips.find(({ track }) => track === of.track);
  const heard =
    of.track === undefined
      ? { ...mixed, guides: [] }
      : onlyTrack(mixed, of.track, told?.mute === false);
  const tempo = tempoOfSong(song);
  return {
    lead,
    part: {
      file: bouncedName(song, of),
      song: heard,
      click: false,
      seconds: tempo.secondsAt(end) - tempo.secondsAt(start - lead),
      ending: 'tail',
      hits: hits.length,
      within: { from: start, to: end, lead },
      ...(of.track !== undefined && { track: of.track }),
    },
  };
}
