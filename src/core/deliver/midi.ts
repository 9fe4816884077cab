import { findPattern, type Song } from '../model';
import type { ExportOptions } from '../midi';
import { laidPlaces, shelfOf } from '../weave';
import { partOf, type PartWish } from './part';

/** Several parts, a file each: the sections one after another, or the patterns of the shelf. */
export const EACH = ['sections', 'patterns'] as const;
export type Each = (typeof EACH)[number];

/** What of a song is handed over as MIDI. */
export interface MidiWish extends PartWish {
  each?: Each;
  /** How files are called: text with `{song}`, `{part}` and `{nn}`, its number from 01 on. */
  names: string;
}

/** The usual names, of one file and of one among several. */
export const USUAL_NAMES = '{song} {nn} {part}';

/** A file of MIDI: what is written into it. */
export interface MidiFile extends Pick<ExportOptions, 'pattern' | 'passes'> {
  /** Without an ending. */
  name: string;
  song: Song;
}

/** The files that a wish comes to. Each hit of the song is in as many files as its part is. */
export function midiFiles(song: Song, wish: MidiWish): MidiFile[] {
  if (wish.each === undefined) {
    const { written, part } = fileOf(song, wish);
    return [{ name: part === undefined ? song.name : `${song.name}, ${part}`, ...written }];
  }
  const parts: PartWish[] =
    wish.each === 'sections'
      ? laidPlaces(song).map(({ place }) => ({ place: place.id }))
      : shelfOf(song).map(({ id }) => ({ pattern: id, passes: wish.passes }));
  const width = Math.max(2, String(parts.length).length);
  const taken = new Set<string>();
  return parts.map((one, i) => {
    const { written, part = '' } = fileOf(song, one);
    const nn = String(i + 1).padStart(width, '0');
    const wanted = named(wish.names, { song: song.name, part, nn });
    // Two files of one name would be one.
    const name = taken.has(wanted.toLowerCase()) ? `${wanted} ${nn}` : wanted;
    taken.add(name.toLowerCase());
    return { name, ...written };
  });
}

/** What of a song is written, and what it is called. A pattern ends where it ends, also within a bar. */
function fileOf(
  song: Song,
  wish: PartWish,
): { written: Omit<MidiFile, 'name'>; part: string | undefined } {
  const pattern = wish.pattern === undefined ? undefined : findPattern(song, wish.pattern);
  if (pattern) {
    const { id, name } = pattern;
    const passes = wish.passes === undefined ? {} : { passes: wish.passes };
    return { written: { song, pattern: id, ...passes }, part: name };
  }
  const { song: alone, name } = partOf(song, wish);
  return { written: { song: alone }, part: name };
}

/** A template with what it names; what it names that there is not stays as it is. */
function named(template: string, values: Readonly<Record<string, string>>): string {
  const name = template.replace(/\{(\w+)\}/g, (all, key: string) =>
    Object.hasOwn(values, key) ? values[key] : all,
  );
  return name.trim() || values.nn;
}
