import {
  Annotation,
  Articulation,
  Beam,
  Dot,
  GraceNote,
  GraceNoteGroup,
  Modifier,
  ModifierPosition,
  Parenthesis,
  StaveNote,
  Stem,
  Tremolo,
  Tuplet,
  Voice,
} from 'vexflow/core';
import type { Kit } from '@/core/model';
import {
  aboveMiddle,
  isNamedOnStaff,
  writtenAs,
  type Chord,
  type NotatedBar,
  type Voice as Part,
  type WrittenStroke,
} from '@/core/notation';
import { labelOf } from '@/core/tab';
import { LETTERS } from './letters';

const DURATIONS = { 1: 'w', 2: 'h', 4: 'q', 8: '8', 16: '16', 32: '32', 64: '64' } as const;

/** Heads by the letters that the engraver calls them; the slashed one has none and is drawn over. */
const HEADS = {
  dot: '',
  slashed: '',
  cross: '/x2',
  'circled-cross': '/x3',
  diamond: '/d2',
  triangle: '/t2',
} as const;
const SLASHED = '\uE0CF';

/** Rests stand off the middle where both voices sound. */
const RESTS: Readonly<Record<Part, string>> = { hands: 'd/5', feet: 'c/4' };
const ALONE = 'b/4';

/** The notes of one voice in a bar, with what is drawn over them. */
export interface DrawnVoice {
  voice: Voice;
  beams: Beam[];
  tuplets: Tuplet[];
}

/** The voices of a bar that have something to say; of a silent bar none. */
export function voicesOf({ voices, meter }: NotatedBar, kit: Kit): DrawnVoice[] {
  const parts = (['hands', 'feet'] as const).filter((part) =>
    voices[part].some(({ struck }) => struck.length > 0),
  );
  const alone = parts.length === 1;
  const written = parts.map((part) => ({
    part,
    chords: voices[part],
    notes: voices[part].map((chord) => noteOf(chord, part, { alone, kit })),
  }));
  if (!alone) standBeside(written[0], written[1]);
  return written.map(({ part, chords, notes }) => {
    const voice = new Voice({ numBeats: meter.beats, beatValue: meter.unit });
    const tuplets = tupletsOf(chords, notes, part);
    const beams = beamsOf(chords, notes);
    voice.setMode(Voice.Mode.SOFT).addTickables(notes);
    return { voice, beams, tuplets };
  });
}

/** The width of a head, in the engraver's own units. */
const HEAD = 12;
/** Lines between two heads of which one would lie over the other: a second, or one place. */
const SECOND = 0.5;

interface WrittenPart {
  chords: readonly Chord[];
  notes: readonly StaveNote[];
}

/** Where the lowest head of the hands and the highest of the feet would touch, the feet's stand to the right. */
function standBeside(hands: WrittenPart, feet: WrittenPart): void {
  feet.chords.forEach(({ at, struck }, i) => {
    const other = hands.chords.findIndex((chord) => Math.abs(chord.at - at) < 1e-6);
    if (other < 0 || struck.length === 0 || hands.chords[other].struck.length === 0) return;
    const lines = (note: StaveNote) => note.getKeyProps().map(({ line }) => line);
    const gap = Math.min(...lines(hands.notes[other])) - Math.max(...lines(feet.notes[i]));
    if (gap <= SECOND) feet.notes[i].setXShift(HEAD);
  });
}

/** A stroke on the staff as a note that stands by itself, for the legend. */
export function singleNote(stroke: WrittenStroke, kit: Kit): StaveNote {
  const { voice } = writtenAs(stroke.piece, stroke.articulation, kit);
  const chord: Chord = { base: 4, dots: 0, at: 0, ticks: 960, struck: [stroke], group: 0 };
  return noteOf(chord, voice, { alone: true, kit });
}

function noteOf(
  { base, dots, struck }: Chord,
  part: Part,
  { alone, kit }: { alone: boolean; kit: Kit },
): StaveNote {
  const stemDirection = part === 'hands' ? Stem.UP : Stem.DOWN;
  const duration = DURATIONS[base];
  if (struck.length === 0) {
    const rest = new StaveNote({
      keys: [alone ? ALONE : RESTS[part]],
      duration: `${duration}r`,
      dots,
    });
    if (dots) Dot.buildAndAttach([rest], { all: true });
    return rest;
  }
  const heads = headsOf(struck, kit);
  const note = new StaveNote({
    keys: heads.map(({ key }) => key),
    duration,
    dots,
    stemDirection,
  });
  heads.forEach(({ stroke, slashed, halfOpen }, i) => {
    if (slashed) note.noteHeads[i].setText(SLASHED);
    if (stroke.ghost) {
      note.addModifier(new Parenthesis(ModifierPosition.LEFT), i);
      note.addModifier(new Parenthesis(ModifierPosition.RIGHT), i);
    }
    if (stroke.tremolo) note.addModifier(new Tremolo(stroke.tremolo), i);
    if (halfOpen) note.addModifier(letters('ø', part), i);
    if (stroke.choked) note.addModifier(letters('choke', part), i);
    if (isNamedOnStaff(stroke.piece)) {
      note.addModifier(letters(labelOf({ piece: stroke.piece }), part), i);
    }
  });
  if (dots) Dot.buildAndAttach([note], { all: true });
  if (struck.some(({ accent }) => accent)) {
    const above = part === 'hands';
    note.addModifier(
      new Articulation('a>').setPosition(above ? Modifier.Position.ABOVE : Modifier.Position.BELOW),
    );
  }
  const graces = struck
    .flatMap((stroke) => stroke.graces.map(({ tick }) => ({ stroke, tick })))
    .sort((a, b) => a.tick - b.tick)
    .map(
      ({ stroke }) =>
        new GraceNote({
          keys: [headsOf([stroke], kit)[0].key],
          duration: '16',
          slash: struck.every((one) => one.graces.length < 2),
          stemDirection,
        }),
    );
  if (graces.length > 0) {
    const group = new GraceNoteGroup(graces, true);
    if (graces.length > 1) group.beamNotes(graces);
    note.addModifier(group, 0);
  }
  return note;
}

function letters(said: string, part: Part): Annotation {
  const above = part === 'hands';
  return new Annotation(said)
    .setFont(LETTERS, '9px')
    .setVerticalJustification(
      above ? Annotation.VerticalJustify.TOP : Annotation.VerticalJustify.BOTTOM,
    );
}

/** The heads of a chord from the lowest up. Two strokes that look alike are one head. */
function headsOf(struck: readonly WrittenStroke[], kit: Kit) {
  const heads = new Map<
    string,
    { key: string; stroke: WrittenStroke; slashed: boolean; halfOpen: boolean; line: number }
  >();
  for (const stroke of struck) {
    const { step, octave, head, halfOpen } = writtenAs(stroke.piece, stroke.articulation, kit);
    const key = `${step.toLowerCase()}/${octave}${HEADS[head]}`;
    const line = aboveMiddle({ step, octave });
    const id = `${key} ${head}`;
    const known = heads.get(id);
    if (known && !known.stroke.ghost) continue;
    heads.set(id, { key, stroke, slashed: head === 'slashed', halfOpen: halfOpen === true, line });
  }
  return [...heads.values()].sort((a, b) => a.line - b.line);
}

function tupletsOf(chords: readonly Chord[], notes: readonly StaveNote[], part: Part): Tuplet[] {
  const tuplets: Tuplet[] = [];
  for (let from = 0; from < chords.length;) {
    const { tuplet } = chords[from];
    let to = from + 1;
    while (tuplet && chords[to]?.tuplet === tuplet) to++;
    if (tuplet) {
      const { actual, normal } = tuplet;
      tuplets.push(
        new Tuplet(notes.slice(from, to), {
          numNotes: actual,
          notesOccupied: normal,
          ratioed: false,
          location: part === 'hands' ? 1 : -1,
        }),
      );
    }
    from = to;
  }
  return tuplets;
}

/** Notes of one group up to the next rest share a beam. */
function beamsOf(chords: readonly Chord[], notes: readonly StaveNote[]): Beam[] {
  const beams: Beam[] = [];
  let run: StaveNote[] = [];
  const close = () => {
    if (run.length > 1) beams.push(new Beam(run));
    run = [];
  };
  chords.forEach((chord, i) => {
    const joins = chord.struck.length > 0 && chord.base >= 8;
    if (!joins || chords[i - 1]?.group !== chord.group) close();
    if (joins) run.push(notes[i]);
  });
  close();
  return beams;
}
