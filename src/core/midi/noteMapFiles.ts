import {
  noteOf,
  pieceOf,
  strokeKey,
  strokesOfKit,
  type Kit,
  type NoteMap,
  type Stroke,
  type StrokeKey,
} from '../model';
import { tableOf } from '../names';
import type { NoteNumber } from '../time';

/** How a note map leaves: as lines of a number and a name, as a table, or as the standard's names of notes. */
export const NOTE_MAP_FORMS = ['txt', 'csv', 'midnam'] as const;
export type NoteMapForm = (typeof NOTE_MAP_FORMS)[number];

/** "Snare, rim", in one line. */
function nameOf({ piece, articulation }: Stroke, kit: Kit): string {
  const { name, articulations } = pieceOf(piece, kit);
  const way = articulations.find(({ id }) => id === articulation);
  const whole = articulations.length > 1 && way ? `${name}, ${way.name}` : name;
  return whole.replace(/\s+/g, ' ').trim();
}

/** The strokes that a map has notes of its own for, by note. */
function rowsOf(map: NoteMap, kit: Kit): { note: NoteNumber; name: string }[] {
  return strokesOfKit(kit)
    .filter((stroke) => !map.only || strokeKey(stroke) in map.notes)
    .map((stroke) => ({
      note: noteOf(stroke.piece, stroke.articulation, map, kit),
      name: nameOf(stroke, kit),
    }))
    .sort((a, b) => a.note - b.note);
}

/** Writes a note map. The MIDNAM form is that of the MIDI Manufacturers Association, "MIDI Names". */
export function writeNoteMap(map: NoteMap, kit: Kit, form: NoteMapForm): string {
  const rows = rowsOf(map, kit);
  if (form === 'txt') return rows.map(({ note, name }) => `${note} ${name}\n`).join('');
  if (form === 'csv') {
    return tableOf(
      ['note', 'name'],
      rows.map(({ note, name }) => [note, name]),
    );
  }
  const notes = rows.map(
    ({ note, name }) => `        <Note Number="${note}" Name="${escaped(name)}"/>\n`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE MIDINameDocument PUBLIC "-//MIDI Manufacturers Association//DTD MIDINameDocument 1.0//EN" "http://www.midi.org/dtds/MIDINameDocument10.dtd">
<MIDINameDocument>
  <Author>Verse Loom</Author>
  <MasterDeviceNames>
    <Manufacturer>Any</Manufacturer>
    <Model>${escaped(map.name)}</Model>
    <NoteNameList Name="${escaped(map.name)}">
${notes.join('')}    </NoteNameList>
  </MasterDeviceNames>
</MIDINameDocument>
`;
}

const ENTITIES: readonly [string, string][] = [
  ['&', '&amp;'],
  ['<', '&lt;'],
  ['>', '&gt;'],
  ['"', '&quot;'],
];
const escaped = (text: string) =>
  ENTITIES.reduce((all, [sign, entity]) => all.replaceAll(sign, entity), text);
const plain = (text: string) =>
  ENTITIES.reduceRight((all, [sign, entity]) => all.replaceAll(entity, sign), text);

/** What a file of note names says. */
export interface ReadNoteMap {
  map: NoteMap;
  /** Names that no stroke of the kit goes by. */
  left: readonly string[];
}

/** So much of a file is read at most, in letters. */
const MOST = 500_000;

/**
 * Reads a note map: names of notes as MIDNAM, a table, or lines of a number and a name.
 * @returns what it says, or why it says nothing, in a sentence
 */
export function readNoteMap(text: string, name: string, kit: Kit): ReadNoteMap | string {
  const rows = text.includes('<Note')
    ? rowsOfXml(text.slice(0, MOST))
    : rowsOfLines(text.slice(0, MOST));
  if (rows.length === 0) {
    return `“${name}” names no notes: a line is a number from 0 to 127 and a name, such as “38 Snare”.`;
  }
  const strokes = strokesOfKit(kit).map((stroke) => ({
    stroke,
    words: wordsOf(nameOf(stroke, kit)),
  }));
  const notes: Record<StrokeKey, NoteNumber> = {};
  const left: string[] = [];
  for (const row of rows) {
    const key = strokeNamed(row.name, strokes);
    if (!key || key in notes) left.push(`${row.note} ${row.name}`);
    else notes[key] = row.note;
  }
  if (Object.keys(notes).length === 0) {
    return `None of the ${rows.length} names in “${name}” is that of a piece of this kit.`;
  }
  return { map: { name: name.replace(/\.[^.]+$/, ''), notes, only: true }, left };
}

const isNote = (note: number) => Number.isInteger(note) && note >= 0 && note <= 127;

function rowsOfXml(text: string): { note: NoteNumber; name: string }[] {
  const attribute = (tag: string, name: string) =>
    new RegExp(`\\b${name}="([^"]*)"`).exec(tag)?.[1] ?? '';
  return (text.match(/<Note\s[^<>]*>/g) ?? []).flatMap((tag) => {
    const number = attribute(tag, 'Number');
    const name = plain(attribute(tag, 'Name')).trim();
    return number !== '' && isNote(Number(number)) && name ? [{ note: Number(number), name }] : [];
  });
}

function rowsOfLines(text: string): { note: NoteNumber; name: string }[] {
  return text.split(/\r\n?|\n/).flatMap((line) => {
    const found = /^\s*"?(\d{1,3})"?\s*[,;\t :=-]\s*(.+)$/.exec(line);
    if (!found || !isNote(Number(found[1]))) return [];
    const name = found[2]
      .trim()
      .replace(/^"(.*)"$/, '$1')
      .replaceAll('""', '"');
    return name ? [{ note: Number(found[1]), name }] : [];
  });
}

/** What pieces are called elsewhere, and what that is here. */
const CALLED: readonly [RegExp, string][] = [
  [/\b(bass drum|bd|kick drum)\b/g, 'kick'],
  [/\b(hi ?hat|hh|hat)s?\b/g, 'hihat'],
  [/\b(snare drum|sd)\b/g, 'snare'],
  [/\b(cross ?stick|sidestick)\b/g, 'side stick'],
  [/\b(tom tom)\b/g, 'tom'],
];

function wordsOf(name: string): Set<string> {
  const lower = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, ' ')
    .trim();
  const here = CALLED.reduce((all, [other, own]) => all.replace(other, own), lower);
  return new Set(here.split(' '));
}

/** The stroke whose name shares most words with this one, half of them at least. */
function strokeNamed(
  name: string,
  strokes: readonly { stroke: Stroke; words: ReadonlySet<string> }[],
): StrokeKey | undefined {
  const wanted = wordsOf(name);
  let best = 0;
  let found: StrokeKey | undefined;
  for (const { stroke, words } of strokes) {
    const both = [...words].filter((word) => wanted.has(word)).length;
    const share = both / (wanted.size + words.size - both);
    if (share <= best || share < 0.5) continue;
    best = share;
    found = strokeKey(stroke);
  }
  return found;
}
