import { Latest } from '../memo';
import { layoutOf, trackOfHit, type Song } from '../model';
import { timeline } from '../weave';
import { heardBy } from './strips';

const counts = new Latest<readonly unknown[], ReadonlyMap<string, number>>(2, 1);

/** How many hits of the song are on each track of the layout in use. Every hit is on exactly one. */
export function hitsPerTrack(song: Song): ReadonlyMap<string, number> {
  const hits = timeline(song);
  const layout = layoutOf(song);
  const key = [hits, layout, song.kit];
  return counts.of(
    '',
    (known) => known.every((part, i) => part === key[i]),
    key,
    () => {
      const perTrack = new Map<string, number>();
      // Few ways of striking stand for many hits: each is looked up by parts, and routed once.
      const ways = new Map<string, Map<string, Map<number, string>>>();
      for (const hit of hits) {
        let ofPiece = ways.get(hit.piece);
        if (!ofPiece) ways.set(hit.piece, (ofPiece = new Map()));
        let ofWay = ofPiece.get(hit.articulation);
        if (!ofWay) ofPiece.set(hit.articulation, (ofWay = new Map()));
        let track = ofWay.get(hit.channel);
        if (track === undefined) {
          track = trackOfHit(layout, song.kit, hit);
          ofWay.set(hit.channel, track);
        }
        perTrack.set(track, (perTrack.get(track) ?? 0) + 1);
      }
      return perTrack;
    },
  );
}

/** The tracks of the layout in use that something is struck on, in the song or in any pattern of it. */
export function tracksStruck(song: Song): Set<string> {
  const layout = layoutOf(song);
  const struck = new Set(hitsPerTrack(song).keys());
  for (const { strands } of song.patterns) {
    for (const { piece, hits } of strands) {
      for (const articulation of new Set(hits.map((hit) => hit.articulation))) {
        struck.add(trackOfHit(layout, song.kit, { piece, articulation }));
      }
    }
  }
  return struck;
}

/** How many hits of each track are heard: without those that the song or a section mutes where they are played. */
export function heardHitsPerTrack(song: Song): ReadonlyMap<string, number> {
  const heard = heardBy(song);
  if (!heard) return hitsPerTrack(song);
  const layout = layoutOf(song);
  const perTrack = new Map<string, number>();
  for (const hit of timeline(song)) {
    if (!heard(hit)) continue;
    const track = trackOfHit(layout, song.kit, hit);
    perTrack.set(track, (perTrack.get(track) ?? 0) + 1);
  }
  return perTrack;
}
