import { DEFAULT_KIT, pieceOfNote } from '../model';
import { wayOf } from '../midi';
import { nameOfWay, writtenAs } from '../notation';
import type { NoteNumber } from '../time';
import { HEAD_NAMES, placeKey } from './heads';
import { childOf, childrenOf, numberOf, textOf, type XmlElement } from './tree';

/** Something that a part says is struck. */
export interface Instrument {
  name: string;
  note?: NoteNumber;
  /** How MusicXML calls its sound: "drum.snare-drum". */
  sound?: string;
}

/** A part as the list of parts has it. */
export interface PartHead {
  id: string;
  name: string;
  instruments: ReadonlyMap<string, Instrument>;
  /** On the channel of drums, or said to be struck. */
  drums: boolean;
}

/** What a `score-part` says. */
export function partHead(part: XmlElement): PartHead {
  const instruments = new Map<string, Instrument>();
  for (const one of childrenOf(part, 'score-instrument')) {
    instruments.set(one.attributes.id ?? '', {
      name: textOf(one, 'instrument-name') ?? '',
      sound: textOf(one, 'instrument-sound'),
    });
  }
  let drums = false;
  for (const midi of childrenOf(part, 'midi-instrument')) {
    // Notes and channels are counted from 1 here.
    const note = (numberOf(textOf(midi, 'midi-unpitched')) ?? 0) - 1;
    const known = instruments.get(midi.attributes.id ?? '');
    if (known && Number.isInteger(note) && note >= 0 && note <= 127) known.note = note;
    if (numberOf(textOf(midi, 'midi-channel')) === 10) drums = true;
  }
  return {
    id: part.attributes.id ?? '',
    name: textOf(part, 'part-name') ?? '',
    instruments,
    drums,
  };
}

const DEFAULT_WAYS = DEFAULT_KIT.pieces.flatMap((piece) =>
  piece.articulations.map(({ id }) => {
    const { head, ...place } = writtenAs(piece.id, id, DEFAULT_KIT);
    return {
      way: wayOf(piece.id, id)!,
      name: nameOfWay(piece.id, id, DEFAULT_KIT).toLowerCase(),
      place: placeKey(place, HEAD_NAMES[head]),
    };
  }),
);

const byName = new Map(DEFAULT_WAYS.map(({ name, way }) => [name, way]));
/** What stands on the staff first in the order of the kit: drums and cymbals before hand percussion. */
const byPlace = new Map(DEFAULT_WAYS.toReversed().map(({ place, way }) => [place, way]));

/** How other hands call what is struck, the more special before the more general. */
const WORDS: readonly (readonly [RegExp, NoteNumber])[] = [
  [/(pedal|foot).*hat|hat.*(pedal|foot)/, 44],
  [/open.*hat|hat.*open/, 46],
  [/hat/, 42],
  [/side.?stick|cross.?stick/, 37],
  [/snare/, 38],
  [/bass.?drum|kick/, 36],
  [/ride.*bell|bell.*ride/, 53],
  [/ride/, 51],
  [/china|chinese/, 52],
  [/splash/, 55],
  [/crash/, 49],
  [/floor/, 43],
  [/(low|large).*tom|tom.*low/, 45],
  [/(high|small).*tom|tom.*high/, 50],
  [/tom/, 47],
  [/tambourine/, 54],
  [/cow.?bell/, 56],
  [/clap/, 39],
  [/triangle/, 81],
  [/wood.?block/, 76],
  [/claves/, 75],
  [/cymbal/, 49],
];

/** What is struck by a note: what its instrument says, else where it stands and how its head looks. */
export function wayOfNote(note: XmlElement, { instruments }: PartHead): number | undefined {
  const id = childOf(note, 'instrument')?.attributes.id;
  const only = instruments.size === 1 ? [...instruments.values()][0] : undefined;
  const instrument = id === undefined ? only : instruments.get(id);
  const head = textOf(note, 'notehead') ?? 'normal';
  const said = instrument && byInstrument(instrument);
  if (said !== undefined) {
    // A hat with a circle around its head is open, whatever its instrument is called.
    return head === 'circle-x' && said === 42 ? 46 : said;
  }
  const place = childOf(note, 'unpitched');
  const step = place && textOf(place, 'display-step');
  const octave = place && textOf(place, 'display-octave');
  if (!step || !octave) return undefined;
  const at = { step: step as 'A', octave: Number(octave) };
  return byPlace.get(placeKey(at, head)) ?? byPlace.get(placeKey(at, 'normal'));
}

function byInstrument({ name, note, sound }: Instrument): number | undefined {
  const named = byName.get(name.trim().toLowerCase());
  if (named !== undefined) return named;
  const unknown = /^note (\d{1,3})$/i.exec(name.trim());
  if (unknown && Number(unknown[1]) <= 127) return wayOf(...idsOf(Number(unknown[1])));
  if (note !== undefined) return wayOf(...idsOf(note));
  const words = `${sound ?? ''} ${name}`.toLowerCase();
  const known = WORDS.find(([pattern]) => pattern.test(words));
  return known && wayOf(...idsOf(known[1]));
}

function idsOf(note: NoteNumber): [string, string] {
  const { piece, articulation } = pieceOfNote(note);
  return [piece.id, articulation.id];
}
