import {
  layoutOf,
  nearestStroke,
  noteOf,
  pieceOf,
  strokeKey,
  type NoteMap,
  type Song,
} from '../model';
import { count as saidCount, drumTracks, isOneTrack, saidAs, type ExportOptions } from '../midi';
import { isPercussion, nameOfWay } from '../notation';
import { hitsPerTrack } from '../tracks';
import { timeline, type TimedHit } from '../weave';
import type { Delivery } from '../wishes';

/** What is said of a file without a hit. */
export const SILENT =
  'Nothing is struck in it yet: put patterns in a row in Weave, or choose another part on the left.';

/**
 * What a reader of a MIDI file will miss, a sentence each.
 * @param isWhole it is not one track of several files
 */
export function midiWarnings(song: Song, options: ExportOptions, isWhole = true): string[] {
  const tracks = drumTracks(song, options);
  const hits = tracks.flatMap((track) => track.hits);
  if (hits.length === 0) return [SILENT];
  return [
    ...lackingNotes(song, options, hits),
    ...doubled(song, options),
    ...unsaid(hits),
    ...(isWhole ? emptyTracks(song, options) : []),
  ];
}

/** Strokes whose map has no note of their own for them. */
function lackingNotes(song: Song, { noteMap }: ExportOptions, hits: readonly TimedHit[]): string[] {
  const map = (noteMap ?? song.noteMap) as NoteMap;
  if (map instanceof Map) return [];
  const lacking = new Map<string, { hit: TimedHit; count: number }>();
  const shared = new Map<string, string>();
  for (const hit of hits) {
    const key = strokeKey(hit);
    const note = noteOf(hit.piece, hit.articulation, map, song.kit);
    shared.set(key, String(note));
    if (!map.only || key in map.notes) continue;
    const known = lacking.get(key);
    if (known) known.count++;
    else lacking.set(key, { hit, count: 1 });
  }
  const wayOf = (piece: string, articulation: string) =>
    nameOfWay(piece, articulation, song.kit).toLowerCase();
  const sum = [...lacking.values()].reduce((all, { count }) => all + count, 0);
  const gone = [...lacking.values()]
    .sort((a, b) => b.count - a.count)
    .map(({ hit, count }) => {
      const near = nearestStroke(hit, map, song.kit);
      const as = near ? wayOf(near.piece, near.articulation) : 'General MIDI has it';
      return `${wayOf(hit.piece, hit.articulation)} as ${as} (${count.toLocaleString('en')})`;
    });
  const byNote = new Map<string, string[]>();
  for (const [key, note] of shared) {
    if (lacking.has(key)) continue;
    byNote.set(note, [...(byNote.get(note) ?? []), key]);
  }
  const alike = [...byNote].flatMap(([note, keys]) => {
    if (keys.length < 2) return [];
    const names = keys.map((key) => {
      const [piece, articulation] = key.split('/');
      return wayOf(piece, articulation);
    });
    return [`${names.join(' and ')} (${note})`];
  });
  return [
    ...(sum > 0
      ? [
          `“${map.name}” has no note for ${saidCount(sum, 'hit')}, which ${sum === 1 ? 'goes' : 'go'} out as the nearest it has: ${listed(gone)}.`,
        ]
      : []),
    ...(alike.length > 0 ? [`A reader cannot tell apart what is one note: ${listed(alike)}.`] : []),
  ];
}

/** More than these are not named one by one. */
const NAMED = 4;

const listed = (all: readonly string[]): string =>
  all.length > NAMED + 1
    ? `${all.slice(0, NAMED).join('; ')}; and ${all.length - NAMED} more`
    : all.join('; ');

/** Strokes of one moment that are one note: a track says it twice, most programs hear it once. */
function doubled(song: Song, options: ExportOptions): string[] {
  let count = 0;
  const tracks = drumTracks(song, options);
  const seen = new Set<string>();
  for (const { id, hits } of tracks) {
    if (!isOneTrack(options)) seen.clear();
    const { noteOfHit, channelOf } = saidAs(song, options, id);
    for (const hit of hits) {
      const key = `${Math.round(hit.tick)} ${channelOf(hit)} ${noteOfHit(hit)}`;
      if (seen.has(key)) count++;
      else seen.add(key);
    }
  }
  return count === 0
    ? []
    : [
        `${saidCount(count, 'hit')} on the very moment and note of another: one track cannot tell them apart.`,
      ];
}

/** What is done to sounds, of which MIDI has no word. */
function unsaid(hits: readonly TimedHit[]): string[] {
  const kinds = [
    ['pan', 'panned'],
    ['tune', 'tuned'],
    ['reverse', 'reversed'],
    ['swell', 'swelled into'],
    ['room', 'sent to the room'],
    ['echo', 'sent to the echo'],
  ] as const;
  const found = kinds.flatMap(([kind, said]) => {
    const count = hits.filter(({ touch }) => touch?.[kind]).length;
    return count > 0 ? [`${said}: ${count.toLocaleString('en')}`] : [];
  });
  return found.length > 0
    ? [`Hits whose sound is changed, which MIDI does not say (${found.join(', ')}).`]
    : [];
}

function emptyTracks(song: Song, { layout }: ExportOptions): string[] {
  if (typeof layout === 'string' || layout === undefined) return [];
  const hits = hitsPerTrack(song);
  const empty = layoutOf(song).tracks.filter(({ id }) => !hits.get(id));
  // Most layouts have a place for whatever comes; only a few tracks are worth a word.
  if (empty.length === 0 || empty.length > 4) return [];
  return [`Not written, for nothing is on them: ${empty.map(({ name }) => name).join(', ')}.`];
}

/** What a page does not say. */
export function chartWarnings(song: Song, { form, percussion }: Delivery['chart']): string[] {
  const hits = timeline(song);
  if (hits.length === 0) return [SILENT];
  const isLeftOut = form === 'pages' && percussion === 'none';
  const left = isLeftOut ? hits.filter(({ piece }) => isPercussion(piece, song.kit)) : [];
  const pushes = new Map(
    song.patterns.flatMap(({ id, strands }) =>
      strands.flatMap((strand) => strand.hits.map((hit) => [`${id} ${hit.id}`, hit.push] as const)),
    ),
  );
  const off = hits.filter(
    ({ pattern, hit }) => Math.abs(pushes.get(`${pattern} ${hit}`) ?? 0) > 30,
  );
  const others = new Set(
    hits.map(({ piece }) => piece).filter((piece) => pieceOf(piece, song.kit).family === 'other'),
  );
  return [
    ...(left.length > 0 ? [`Left out: ${saidCount(left.length, 'hit')} of hand percussion.`] : []),
    ...(off.length > 0
      ? [
          `Not on paper: ${saidCount(off.length, 'hit')} played early or late. Each is written on its step or on one that is nearer, under a heading where it swings.`,
        ]
      : []),
    ...(others.size > 0
      ? [
          `Notes of no known drum are written with their letters: ${saidCount(others.size, 'piece')}.`,
        ]
      : []),
  ];
}
