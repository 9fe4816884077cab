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
  touches,
  VOICES,
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
const RESTS: Readonly<Record<Exclude<Part, 'percussion'>, string>> = { hands: 'd/5', feet: 'a/3' };
/** Short ones are taller. */
const SHORT_RESTS: Readonly<Record<number, typeof RESTS>> = {
  32: { hands: 'e/5', feet: 'a/3' },
  64: { hands: 'g/5', feet: 'g/3' },
};
const ALONE = 'b/4';

/** How long the stems of feet are. */
const FEET_STEM = 29;

/** The notes of one voice in a bar, with what is drawn over them. */
export interface DrawnVoice {
  part: Part;
  voice: Voice;
  notes: readonly StaveNote[];
  beams: Beam[];
  tuplets: Tuplet[];
}

/**
 * The voices of a bar that have something to say; of a silent bar none.
 * @param named by voice, the pieces whose letters were last set on this line; it is kept up to date
 */
export function voicesOf(
  { voices, meter }: NotatedBar,
  kit: Kit,
  named: Map<Part, string>,
): DrawnVoice[] {
  const parts = VOICES.filter((part) => voices[part].some(({ struck }) => struck.length > 0));
  const both = parts.includes('hands') && parts.includes('feet');
  const written = parts.map((part) => {
    const chords = voices[part];
    const alone = part === 'percussion' || !both;
    const letters = namedIn(chords, part, named);
    const notes = chords.map((chord) => noteOf(chord, part, { alone, kit, named: letters }));
    return { part, chords, notes };
  });
  if (both) standBeside(written.at(-2)!, written.at(-1)!, kit);
  return written.map(({ part, chords, notes }) => {
    const voice = new Voice({ numBeats: meter.beats, beatValue: meter.unit });
    const tuplets = tupletsOf(chords, notes, part);
    const beams = beamsOf(chords, notes);
    voice.setMode(Voice.Mode.SOFT).addTickables(notes);
    return { part, voice, notes, beams, tuplets };
  });
}

/** The strokes that have the letters of their piece: the first of each run of pieces that have no place on the staff. */
function namedIn(
  chords: readonly Chord[],
  part: Part,
  last: Map<Part, string>,
): Set<WrittenStroke> {
  const named = new Set<WrittenStroke>();
  let before = last.get(part) ?? '';
  for (const { struck } of chords) {
    if (struck.length === 0) continue;
    const byPiece = new Map(struck.map((stroke) => [stroke.piece, stroke]));
    const others = [...byPiece.values()].filter(({ piece }) => isNamedOnStaff(piece));
    const pieces = others
      .map(({ piece }) => piece)
      .sort()
      .join(' ');
    if (pieces !== before) for (const stroke of others) named.add(stroke);
    before = pieces;
  }
  last.set(part, before);
  return named;
}

/** The width of a head, in the engraver's own units. */
const HEAD = 12;
const DOTS = 8;
const BRACKET = 7;
interface WrittenPart {
  chords: readonly Chord[];
  notes: readonly RoomyNote[];
}

/** How high accents and letters over a stem are. */
const OVER_STEM = 12;

/**
 * Where the highest of a voice ends that has been drawn, stems and what stands over them.
 * @param x of the notes that begin before this
 */
export function topOf({ part, notes, tuplets }: DrawnVoice, x: number): number {
  if (part === 'feet') return Infinity;
  const before = notes.filter((note) => note.getAbsoluteX() < x + HEAD);
  const tops = before.map((note) => {
    const over = note
      .getModifiers()
      .filter((one) => one instanceof Articulation || one instanceof Annotation);
    const top = note.isRest() ? Math.min(...note.getYs()) : note.getStemExtents().topY;
    return top - over.length * OVER_STEM;
  });
  const numbers = tuplets
    .filter((tuplet) => tuplet.getNotes()[0].getAbsoluteX() < x + HEAD)
    .map((tuplet) => tuplet.getYPosition() - OVER_STEM);
  return Math.min(...tops, ...numbers);
}

/** A note that keeps room to its right for one of the other voice. */
class RoomyNote extends StaveNote {
  private room = 0;

  keepRoom(room: number): void {
    this.room = room;
  }

  override preFormat(): void {
    if (this.preFormatted) return;
    super.preFormat();
    if (this.room === 0) return;
    this.setRightDisplacedHeadPx(this.room);
    this.setWidth(this.getWidth() + this.room);
  }

  override draw(): void {
    // Its dots would stand behind what has the room.
    if (this.room > 0) this.setRightDisplacedHeadPx(0);
    super.draw();
  }
}

/** Where heads of hands and feet would touch, the feet's stand to the right. */
function standBeside(hands: WrittenPart, feet: WrittenPart, kit: Kit): void {
  feet.chords.forEach(({ at, struck, dots }, i) => {
    const n = hands.chords.findIndex((chord) => Math.abs(chord.at - at) < 1e-6);
    const other = hands.chords[n];
    if (!other || !touches(other.struck, struck, kit)) return;
    // Dots and parentheses of the hands stand between.
    const isGhost = other.struck.some(({ ghost }) => ghost);
    const bracket = struck.some(({ ghost }) => ghost) ? BRACKET : 0;
    const between = (other.dots > 0 ? DOTS : 0) + (isGhost ? BRACKET : 0) + bracket;
    const by = HEAD + between;
    feet.notes[i].setXShift(by);
    const room = by + (dots > 0 ? DOTS : 0) + bracket;
    for (const note of [hands.notes[n], feet.notes[i]]) note.keepRoom(room);
  });
}

/** A stroke on the staff as a note that stands by itself, for the legend. */
export function singleNote(stroke: WrittenStroke, kit: Kit): StaveNote {
  const { voice } = writtenAs(stroke.piece, stroke.articulation, kit);
  const chord: Chord = {
    base: 4,
    dots: 0,
    at: 0,
    ticks: 960,
    struck: [stroke],
    group: 0,
    step: 960,
  };
  return noteOf(chord, voice, { alone: true, kit, named: namedIn([chord], voice, new Map()) });
}

function noteOf(
  { base, dots, struck }: Chord,
  part: Part,
  { alone, kit, named }: { alone: boolean; kit: Kit; named: ReadonlySet<WrittenStroke> },
): RoomyNote {
  const stemDirection = part === 'feet' ? Stem.DOWN : Stem.UP;
  const duration = DURATIONS[base];
  if (struck.length === 0) {
    const rest = new RoomyNote({
      keys: [alone || part === 'percussion' ? ALONE : (SHORT_RESTS[base] ?? RESTS)[part]],
      duration: `${duration}r`,
      dots,
    });
    if (dots) Dot.buildAndAttach([rest], { all: true });
    return rest;
  }
  const heads = headsOf(struck, kit);
  const note = new RoomyNote({
    keys: heads.map(({ key }) => key),
    duration,
    dots,
    stemDirection,
  });
  // Shorter ones leave room for accents below them.
  if (part === 'feet') note.setStemLength(FEET_STEM);
  heads.forEach(({ stroke, slashed, halfOpen }, i) => {
    if (slashed) note.noteHeads[i].setText(SLASHED);
    if (stroke.ghost) {
      note.addModifier(new Parenthesis(ModifierPosition.LEFT), i);
      note.addModifier(new Parenthesis(ModifierPosition.RIGHT), i);
    }
    if (stroke.tremolo) note.addModifier(new Tremolo(stroke.tremolo), i);
    if (halfOpen) note.addModifier(letters('ø', part), i);
    if (stroke.choked) note.addModifier(letters('choke', part), i);
    if (named.has(stroke)) {
      note.addModifier(letters(labelOf({ piece: stroke.piece }), part), i);
    }
  });
  if (dots) Dot.buildAndAttach([note], { all: true });
  if (struck.some(({ accent }) => accent)) {
    const above = part !== 'feet';
    note.addModifier(
      new Articulation('a>')
        // Always outside the staff: between its lines it would lie on short stems and their beams.
        .setBetweenLines(false)
        .setPosition(above ? Modifier.Position.ABOVE : Modifier.Position.BELOW),
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
  const above = part !== 'feet';
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

/** Short rests of the feet reach down as far as this, where the number of a tuplet would stand. */
const SHORT_REST = 12;
const hasShortRest = (chords: readonly Chord[]) =>
  chords.some(({ base, struck }) => base >= 32 && struck.length === 0);

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
          location: part === 'feet' ? -1 : 1,
          yOffset: part === 'feet' && hasShortRest(chords.slice(from, to)) ? SHORT_REST : 0,
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
