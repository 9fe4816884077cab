import { noteOf, type Song } from '../model';
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

const VOICES: readonly { voice: Voice; number: number; stem: string }[] = [
  { voice: 'hands', number: 1, stem: 'up' },
  { voice: 'feet', number: 2, stem: 'down' },
];

/**
 * Writes a song as MusicXML 4.0, partwise: unpitched percussion on a five-line staff, an instrument for
 * each way to strike a piece. A note stands on its step, with when it really sounds in `attack` and how
 * hard it is struck in `dynamics`, so that it can be read back exactly.
 * @param notation of the song, where it is there already
 */
export function writeMusicXml(song: Song, notation: Notation = notationOf(song)): string {
  const instruments = instrumentsOf(song, notation);
  const steps = steppedTempos(song, PPQ / 4);
  let nextStep = 0;
  const measures = notation.bars.map((bar, i) => {
    const end = notation.bars[i + 1]?.start ?? Infinity;
    const tempos = [];
    while (nextStep < steps.length && steps[nextStep].at < end) tempos.push(steps[nextStep++]);
    return measure(bar, { song, tempos, first: i === 0 });
  });
  // A score has one measure at least.
  if (measures.length === 0) measures.push(emptyMeasure());
  const score = element('score-partwise', { version: '4.0' }, [
    element('work', {}, [text('work-title', song.name)]),
    element('identification', {}, [
      element('encoding', {}, [
        text('software', 'Verse Loom'),
        element('supports', { element: 'beam', type: 'yes' }),
      ]),
    ]),
    element('part-list', {}, [
      element('score-part', { id: 'P1' }, [
        text('part-name', 'Drums'),
        ...instruments.map(({ id, name }) =>
          element('score-instrument', { id }, [text('instrument-name', name)]),
        ),
        ...instruments.map(({ id, note }) =>
          element('midi-instrument', { id }, [
            text('midi-channel', 10),
            text('midi-unpitched', note + 1),
          ]),
        ),
      ]),
    ]),
    element('part', { id: 'P1' }, measures),
  ]);
  return [
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>',
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">',
    score,
    '',
  ].join('\n');
}

function instrumentsOf({ noteMap, kit }: Song, { legend }: Notation) {
  return legend.map(({ piece, articulation, name }) => ({
    id: instrumentId(piece, articulation),
    name,
    note: noteOf(piece, articulation, noteMap, kit),
  }));
}

/** An id as XML allows it. */
const instrumentId = (piece: string, articulation: string) =>
  `P1-${`${piece}.${articulation}`.replace(/[^\w.-]/g, '_')}`;

interface Measure {
  song: Song;
  tempos: ReturnType<typeof steppedTempos>;
  first: boolean;
}

function measure(bar: NotatedBar, { song, tempos, first }: Measure): string {
  const length = bar.voices.hands.reduce((sum, { ticks }) => sum + ticks, 0);
  const feet = bar.voices.feet.some(({ struck }) => struck.length > 0);
  const shown = VOICES.filter(({ voice }) => voice === 'hands' || feet);
  return element('measure', { number: bar.index + 1 }, [
    ...(first || bar.newMeter ? [attributes(bar.meter, first)] : []),
    ...(bar.section === undefined ? [] : [sectionMark(bar.section)]),
    ...tempos.map((tempo) => tempoMark(bar, tempo)),
    ...(bar.swing === undefined ? [] : [wordsAbove(bar.swing)]),
    ...shown.flatMap((voice, i) => [
      ...(i === 0 ? [] : [element('backup', {}, [text('duration', length)])]),
      ...notesOf(bar, voice, song),
    ]),
  ]);
}

function emptyMeasure(): string {
  const meter = { beats: 4, unit: 4 };
  return element('measure', { number: 1 }, [
    attributes(meter, true),
    element('note', {}, [
      element('rest', { measure: 'yes' }),
      text('duration', 4 * PPQ),
      text('voice', 1),
    ]),
  ]);
}

function attributes({ beats, unit }: Meter, first: boolean): string {
  return element('attributes', {}, [
    ...(first ? [text('divisions', PPQ), element('key', {}, [text('fifths', 0)])] : []),
    element('time', {}, [text('beats', beats), text('beat-type', unit)]),
    ...(first ? [element('clef', {}, [text('sign', 'percussion')])] : []),
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

interface InVoice {
  voice: Voice;
  number: number;
  stem: string;
}

function notesOf(bar: NotatedBar, { voice, number, stem }: InVoice, song: Song): string[] {
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
        const { sounds, staff, instrument, head } = saidOf(stroke, grace, begins, song);
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
        const { sounds, staff, instrument, head } = saidOf(stroke, stroke, begins, song);
        const notations = [...(n === 0 ? brackets : []), ...signsOf(stroke, song)];
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
  { kit }: Song,
) {
  const { step, octave, head } = writtenAs(piece, articulation, kit);
  const attack = tick - begins;
  return {
    sounds: {
      dynamics: ((velocity / FORTE) * 100).toFixed(2),
      attack: Math.abs(attack) < 1e-6 ? undefined : decimal(attack),
    },
    staff: element('unpitched', {}, [text('display-step', step), text('display-octave', octave)]),
    instrument: element('instrument', { id: instrumentId(piece, articulation) }),
    head: element('notehead', ghost ? { parentheses: 'yes' } : {}, [escaped(HEAD_NAMES[head])]),
  };
}

function signsOf(stroke: WrittenStroke, { kit }: Song): string[] {
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
