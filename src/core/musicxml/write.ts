import { noteOf, type Kit, type Song } from '../model';
import {
  notationOf,
  writtenAs,
  type Chord,
  type NotatedBar,
  type Notation,
  type Voice,
  type WrittenStroke,
} from '../notation';
import { PPQ, pulseTicks, type Meter, type Ticks } from '../time';
import { steppedTempos } from '../weave';
import { HEAD_NAMES, TYPES } from './heads';
import { element, escaped, text } from './xml';

/** Loudness is said as percents of this velocity. Source: MusicXML 4.0, "note" element, `dynamics`. */
export const FORTE = 90;

/** A part of the score, and its voices: what is not of the drum set has a staff of one line. */
interface PartSaid {
  id: string;
  name: string;
  voices: readonly InVoice[];
  /** Absent is five. */
  lines?: number;
}

interface InVoice {
  voice: Voice;
  number: number;
  stem: string;
}

const DRUMS: PartSaid = {
  id: 'P1',
  name: 'Drums',
  voices: [
    { voice: 'hands', number: 1, stem: 'up' },
    { voice: 'feet', number: 2, stem: 'down' },
  ],
};

const PERCUSSION: PartSaid = {
  id: 'P2',
  name: 'Percussion',
  voices: [{ voice: 'percussion', number: 1, stem: 'up' }],
  lines: 1,
};

/**
 * Writes a song as MusicXML 4.0, partwise: the drum set on a five-line staff and, where there is any, hand percussion
 * as a part on one line; an instrument for each way to strike a piece. A note stands on its step, with when it really sounds in `attack` and how
 * hard it is struck in `dynamics`, so that it can be read back exactly.
 * @param notation of the song, where it is there already
 */
export function writeMusicXml(song: Song, notation: Notation = notationOf(song)): string {
  const parts = notation.percussion ? [DRUMS, PERCUSSION] : [DRUMS];
  const score = element('score-partwise', { version: '4.0' }, [
    element('work', {}, [text('work-title', song.name)]),
    element('identification', {}, [
      element('encoding', {}, [
        text('software', 'Verse Loom'),
        element('supports', { element: 'beam', type: 'yes' }),
      ]),
    ]),
    element(
      'part-list',
      {},
      parts.map((part) => scorePart(part, song, notation)),
    ),
    ...parts.map((part) => element('part', { id: part.id }, measuresOf(part, song, notation))),
  ]);
  return [
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>',
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">',
    score,
    '',
  ].join('\n');
}

/** The name of a part, and its instruments. */
function scorePart({ id, name, voices }: PartSaid, { noteMap, kit }: Song, { legend }: Notation) {
  const instruments = legend
    .filter((entry) => voices.some(({ voice }) => voice === entry.voice))
    .map(({ piece, articulation, name, voice }) => ({
      id: instrumentId(piece, articulation, voice),
      name,
      note: noteOf(piece, articulation, noteMap, kit),
    }));
  return element('score-part', { id }, [
    text('part-name', name),
    ...instruments.map((one) =>
      element('score-instrument', { id: one.id }, [text('instrument-name', one.name)]),
    ),
    ...instruments.map((one) =>
      element('midi-instrument', { id: one.id }, [
        text('midi-channel', 10),
        text('midi-unpitched', one.note + 1),
      ]),
    ),
  ]);
}

/** An id as XML allows it. */
const instrumentId = (piece: string, articulation: string, voice: Voice) =>
  `${voice === 'percussion' ? PERCUSSION.id : DRUMS.id}-${`${piece}.${articulation}`.replace(/[^\w.-]/g, '_')}`;

/** The measures of a part. Tempos, sections and swing are said in the first part, for all of them. */
function measuresOf(part: PartSaid, song: Song, { bars, kit }: Notation): string[] {
  const steps = part === DRUMS ? steppedTempos(song, PPQ / 4) : [];
  let nextStep = 0;
  const measures = bars.map((bar, i) => {
    const end = bars[i + 1]?.start ?? Infinity;
    const tempos = [];
    while (nextStep < steps.length && steps[nextStep].at < end) tempos.push(steps[nextStep++]);
    return measure(bar, { kit, tempos, part, first: i === 0 });
  });
  // A score has one measure at least.
  return measures.length > 0 ? measures : [emptyMeasure(part)];
}

interface Measure {
  kit: Kit;
  tempos: ReturnType<typeof steppedTempos>;
  part: PartSaid;
  first: boolean;
}

function measure(bar: NotatedBar, { kit, tempos, part, first }: Measure): string {
  const length = bar.voices.hands.reduce((sum, { ticks }) => sum + ticks, 0);
  const isStruck = ({ voice }: InVoice) =>
    bar.voices[voice].some(({ struck }) => struck.length > 0);
  const shown = part.voices.filter((voice, i) => i === 0 || isStruck(voice));
  const says = part === DRUMS;
  return element('measure', { number: bar.index + 1 }, [
    ...(first || bar.newMeter ? [attributes(bar.meter, { first, part })] : []),
    ...(says && bar.label !== undefined ? [sectionMark(bar.label)] : []),
    ...tempos.map((tempo) => tempoMark(bar, tempo)),
    ...(says && bar.swing !== undefined ? [wordsAbove(bar.swing)] : []),
    ...shown.flatMap((voice, i) => [
      ...(i === 0 ? [] : [element('backup', {}, [text('duration', length)])]),
      ...notesOf(bar, voice, kit),
    ]),
  ]);
}

function emptyMeasure(part: PartSaid): string {
  const meter = { beats: 4, unit: 4 };
  return element('measure', { number: 1 }, [
    attributes(meter, { first: true, part }),
    element('note', {}, [
      element('rest', { measure: 'yes' }),
      text('duration', 4 * PPQ),
      text('voice', 1),
    ]),
  ]);
}

function attributes(
  { beats, unit }: Meter,
  { first, part }: { first: boolean; part: PartSaid },
): string {
  return element('attributes', {}, [
    ...(first ? [text('divisions', PPQ), element('key', {}, [text('fifths', 0)])] : []),
    element('time', {}, [text('beats', beats), text('beat-type', unit)]),
    ...(first ? [element('clef', {}, [text('sign', 'percussion')])] : []),
    ...(first && part.lines
      ? [element('staff-details', {}, [text('staff-lines', part.lines)])]
      : []),
  ]);
}

function sectionMark(name: string): string {
  return element('direction', { placement: 'above' }, [
    element('direction-type', {}, [text('rehearsal', name, { enclosure: 'rectangle' })]),
  ]);
}

/** Words for the reader: a swing is said so, and played by when each note is attacked. */
function wordsAbove(words: string): string {
  return element('direction', { placement: 'above' }, [
    element('direction-type', {}, [text('words', words)]),
  ]);
}

/** A tempo is shown where it is set; the steps of a glide are only heard. */
function tempoMark(bar: NotatedBar, { at, bpm }: { at: Ticks; bpm: number }): string {
  const within = at - bar.start;
  const mark = bar.tempos.find((tempo) => Math.abs(tempo.at - within) < 1e-6);
  const offset = within === 0 ? [] : [text('offset', decimal(within), { sound: 'yes' })];
  if (!mark)
    return element(
      'sound',
      { tempo: decimal(bpm) },
      offset.length ? [text('offset', decimal(within))] : [],
    );
  const dotted = pulseTicks(bar.meter) === 1.5 * PPQ;
  return element('direction', { placement: 'above' }, [
    element('direction-type', {}, [
      element('metronome', {}, [
        text('beat-unit', 'quarter'),
        ...(dotted ? [element('beat-unit-dot')] : []),
        text('per-minute', Math.round((dotted ? bpm / 1.5 : bpm) * 100) / 100),
      ]),
    ]),
    ...offset,
    element('sound', { tempo: decimal(bpm) }),
  ]);
}

/** A number without an exponent, as XML Schema has decimals. */
function decimal(value: number): string {
  return String(Number(value.toFixed(6)));
}

function notesOf(bar: NotatedBar, { voice, number, stem }: InVoice, kit: Kit): string[] {
  const chords = bar.voices[voice];
  const silent = chords.every(({ struck }) => struck.length === 0);
  if (silent) {
    const length = chords.reduce((sum, { ticks }) => sum + ticks, 0);
    return [
      element('note', {}, [
        element('rest', { measure: 'yes' }),
        text('duration', length),
        text('voice', number),
      ]),
    ];
  }
  const beams = beamsOf(chords);
  return chords.flatMap((chord, i) => {
    const brackets = bracketsOf(chords, i);
    const rhythm = [
      text('voice', number),
      text('type', TYPES[chord.base]),
      ...(chord.dots ? [element('dot')] : []),
      ...(chord.tuplet
        ? [
            element('time-modification', {}, [
              text('actual-notes', chord.tuplet.actual),
              text('normal-notes', chord.tuplet.normal),
            ]),
          ]
        : []),
    ];
    const duration = text('duration', decimal(chord.ticks));
    if (chord.struck.length === 0) {
      return [
        element('note', {}, [
          element('rest'),
          duration,
          ...rhythm,
          ...(brackets.length ? [element('notations', {}, brackets)] : []),
        ]),
      ];
    }
    const graces = chord.struck
      .flatMap((stroke) => stroke.graces.map((grace) => ({ stroke, grace })))
      .sort((a, b) => a.grace.tick - b.grace.tick);
    const begins = bar.start + chord.at;
    return [
      ...graces.map(({ stroke, grace }) => {
        const { sounds, staff, instrument, head } = saidOf(stroke, grace, begins, kit);
        return element('note', sounds, [
          element('grace', { slash: 'yes' }),
          staff,
          instrument,
          text('voice', number),
          text('type', 'eighth'),
          text('stem', stem),
          head,
        ]);
      }),
      ...chord.struck.map((stroke, n) => {
        const { sounds, staff, instrument, head } = saidOf(stroke, stroke, begins, kit);
        const notations = [...(n === 0 ? brackets : []), ...signsOf(stroke, kit)];
        return element('note', sounds, [
          ...(n > 0 ? [element('chord')] : []),
          staff,
          duration,
          instrument,
          ...rhythm,
          text('stem', stem),
          head,
          ...(n === 0 ? beams[i] : []),
          ...(notations.length ? [element('notations', {}, notations)] : []),
        ]);
      }),
    ];
  });
}

/** What is said about one stroke: when and how hard it sounds, where it stands, what it is struck on. */
function saidOf(
  { piece, articulation, ghost }: WrittenStroke,
  { tick, velocity }: { tick: Ticks; velocity: number },
  begins: Ticks,
  kit: Kit,
) {
  const { step, octave, head, voice } = writtenAs(piece, articulation, kit);
  const attack = tick - begins;
  return {
    sounds: {
      dynamics: ((velocity / FORTE) * 100).toFixed(2),
      attack: Math.abs(attack) < 1e-6 ? undefined : decimal(attack),
    },
    staff: element('unpitched', {}, [text('display-step', step), text('display-octave', octave)]),
    instrument: element('instrument', { id: instrumentId(piece, articulation, voice) }),
    head: element('notehead', ghost ? { parentheses: 'yes' } : {}, [escaped(HEAD_NAMES[head])]),
  };
}

function signsOf(stroke: WrittenStroke, kit: Kit): string[] {
  const { halfOpen } = writtenAs(stroke.piece, stroke.articulation, kit);
  return [
    ...(stroke.tremolo
      ? [element('ornaments', {}, [text('tremolo', stroke.tremolo, { type: 'single' })])]
      : []),
    ...(halfOpen ? [element('technical', {}, [element('half-muted')])] : []),
    ...(stroke.accent ? [element('articulations', {}, [element('accent')])] : []),
  ];
}

/** Where the bracket of a tuplet begins and ends. */
function bracketsOf(chords: readonly Chord[], i: number): string[] {
  const { tuplet } = chords[i];
  if (!tuplet) return [];
  const begins = chords[i - 1]?.tuplet !== tuplet;
  const ends = chords[i + 1]?.tuplet !== tuplet;
  return [
    ...(begins ? [element('tuplet', { type: 'start' })] : []),
    ...(ends ? [element('tuplet', { type: 'stop' })] : []),
  ];
}

/** The beams of each chord: notes of one group, up to the next rest, share them. */
function beamsOf(chords: readonly Chord[]): string[][] {
  const levels = chords.map(({ struck, base }) =>
    struck.length === 0 || base < 8 ? 0 : Math.log2(base) - 2,
  );
  return chords.map((chord, i) => {
    const reach = (other: number, level: number) =>
      chords[other]?.group === chord.group && levels[other] >= level;
    return Array.from({ length: levels[i] }, (_, n) => {
      const level = n + 1;
      const [left, right] = [reach(i - 1, level), reach(i + 1, level)];
      if (level === 1 && !left && !right) return '';
      // A short beam points to the note it is joined with by a longer one.
      const hook = reach(i - 1, 1) ? 'backward hook' : 'forward hook';
      const said = left ? (right ? 'continue' : 'end') : right ? 'begin' : hook;
      return text('beam', said, { number: level });
    }).filter((beam) => beam !== '');
  });
}
