import { barTicks, COMMON_TIME, isMeter, PPQ, toVelocity, type Meter, type Ticks } from '../time';
import { wayOfNote, type PartHead } from './instruments';
import { childOf, childrenOf, numberOf, textOf, type XmlElement } from './tree';

/** A soft stroke before another. */
export interface ReadGrace {
  way: number;
  velocity: number;
  /** Ticks from the place of the note it stands before; undefined when the file does not say. */
  attack?: Ticks;
}

/** A stroke of a measure. */
export interface ReadStroke {
  way: number;
  velocity: number;
  /** Ticks from the start of the measure: where it is written, and when it sounds. */
  at: Ticks;
  sounds: Ticks;
  graces: readonly ReadGrace[];
  /** Strokes that its bars through the stem stand for, and the time they have. */
  roll?: { strokes: number; room: Ticks };
}

/** What all parts share of a measure. */
export interface ReadMeasure {
  meter: Meter;
  /** As long as what is in it, where that is not as long as its meter. */
  length: Ticks;
  section?: string;
  tempos: { at: Ticks; bpm: number }[];
  repeats: { begins: boolean; ends?: number };
  /** Times on which it is played, where it is an ending; empty is every time. */
  endings: readonly number[];
  endingStops: boolean;
}

/** What a part has in a measure. */
export interface PartMeasure {
  strokes: ReadStroke[];
  /** Like so many measures before it. */
  like?: number;
}

/** What was found that is no stroke and no place in time. */
export interface Found {
  unknown: Map<string, number>;
  slashes: number;
  jumps: boolean;
  percussion: boolean;
  notes: number;
}

export const nothingFound = (): Found => ({
  unknown: new Map(),
  slashes: 0,
  jumps: false,
  percussion: false,
  notes: 0,
});

/** Velocities of the marks for loudness; a score that has none is played forte. */
const MARKS: Readonly<Record<string, number>> = {
  ppp: 20,
  pp: 33,
  p: 49,
  mp: 64,
  mf: 80,
  f: 96,
  ff: 112,
  fff: 124,
};
const FORTE = 90;
const HARDER = 24;
const GHOST = 36;

/** Notes that last longer are damage: no measure has so many quarters. */
const LONGEST: Ticks = 256 * PPQ;

/** Reads the measures of one part, one after another: what holds on is kept in it. */
export class PartReader {
  private divisions = 1;
  private meter = COMMON_TIME;
  private velocity = FORTE;
  private repeating = 0;
  private position: Ticks = 0;
  private longest: Ticks = 0;
  private begun: Ticks = 0;
  private group: { graces: ReadGrace[]; strokes: ReadStroke[] } = { graces: [], strokes: [] };
  private strokes: ReadStroke[] = [];
  private graces: ReadGrace[] = [];

  readonly found = nothingFound();

  constructor(private readonly head: PartHead) {}

  /** @returns what the measure has of this part, and what it says to all of them */
  read(measure: XmlElement): { shared: ReadMeasure; own: PartMeasure } {
    this.position = this.longest = this.begun = 0;
    this.strokes = [];
    const shared: ReadMeasure = {
      meter: this.meter,
      length: 0,
      tempos: [],
      repeats: { begins: false },
      endings: [],
      endingStops: false,
    };
    for (const element of measure.children) this.element(element, shared);
    this.finish();
    shared.meter = this.meter;
    shared.length = barTicks(this.meter);
    const odd = this.longest > 0 && Math.abs(this.longest - shared.length) > 1;
    const short = this.longest < shared.length && measure.attributes.implicit !== 'yes';
    if (odd && !short) shared.length = this.longest;
    const like = this.repeating > 0 && this.strokes.length === 0 ? this.repeating : undefined;
    return { shared, own: { strokes: this.strokes, ...(like && { like }) } };
  }

  private element(element: XmlElement, shared: ReadMeasure): void {
    switch (element.name) {
      case 'attributes':
        this.attributes(element);
        break;
      case 'note':
        this.note(element);
        break;
      case 'backup':
        this.finish();
        this.position = Math.max(0, this.position - this.durationOf(element));
        break;
      case 'forward':
        this.finish();
        this.moveTo(this.position + this.durationOf(element));
        break;
      case 'direction':
        this.direction(element, shared);
        break;
      case 'sound':
        this.sound(element, numberOf(textOf(element, 'offset')), shared);
        break;
      case 'barline':
        barline(element, shared);
        break;
    }
  }

  private ticks(said: string | undefined): Ticks {
    return ((numberOf(said) ?? 0) * PPQ) / this.divisions;
  }

  private durationOf(element: XmlElement): Ticks {
    return Math.max(0, Math.min(LONGEST, this.ticks(textOf(element, 'duration'))));
  }

  private moveTo(position: Ticks): void {
    this.position = Math.min(LONGEST, position);
    this.longest = Math.max(this.longest, this.position);
  }

  private attributes(element: XmlElement): void {
    const divisions = numberOf(textOf(element, 'divisions'));
    if (divisions && divisions > 0) this.divisions = divisions;
    const time = childOf(element, 'time');
    // "3+2" is five: beats that are grouped.
    const beats = (time && textOf(time, 'beats'))
      ?.split('+')
      .reduce((sum, one) => sum + Number(one), 0);
    const unit = numberOf(time && textOf(time, 'beat-type'));
    if (beats !== undefined && unit !== undefined && isMeter({ beats, unit })) {
      this.meter = { beats, unit };
    }
    for (const clef of childrenOf(element, 'clef')) {
      if (textOf(clef, 'sign') === 'percussion') this.found.percussion = true;
    }
    for (const style of childrenOf(element, 'measure-style')) {
      const repeat = childOf(style, 'measure-repeat');
      if (!repeat) continue;
      const starts = repeat.attributes.type === 'start';
      this.repeating = starts
        ? Math.max(1, Math.min(8, Math.round(numberOf(repeat.text) ?? 1)))
        : 0;
    }
  }

  private direction(element: XmlElement, shared: ReadMeasure): void {
    const offset = numberOf(textOf(element, 'offset'));
    let heard = false;
    for (const sound of childrenOf(element, 'sound'))
      heard = this.sound(sound, offset, shared) || heard;
    for (const type of childrenOf(element, 'direction-type')) {
      const rehearsal = textOf(type, 'rehearsal');
      if (rehearsal) shared.section ??= rehearsal;
      if (childOf(type, 'segno') || childOf(type, 'coda')) this.found.jumps = true;
      const mark = childOf(type, 'dynamics')?.children[0]?.name;
      if (mark !== undefined && Object.hasOwn(MARKS, mark)) this.velocity = MARKS[mark];
      const metronome = childOf(type, 'metronome');
      if (metronome && !heard) this.metronome(metronome, offset, shared);
    }
  }

  private metronome(metronome: XmlElement, offset: number | undefined, shared: ReadMeasure): void {
    const count = numberOf(textOf(metronome, 'per-minute'));
    const unit = { half: 2, quarter: 1, eighth: 0.5, '16th': 0.25 }[
      textOf(metronome, 'beat-unit') ?? 'quarter'
    ];
    if (!count || !unit) return;
    const dotted = childOf(metronome, 'beat-unit-dot') ? 1.5 : 1;
    shared.tempos.push({ at: this.at(offset), bpm: count * unit * dotted });
  }

  /** @returns whether it says a tempo */
  private sound(element: XmlElement, offset: number | undefined, shared: ReadMeasure): boolean {
    const { tempo, dynamics, dacapo, dalsegno, tocoda } = element.attributes;
    if (dacapo !== undefined || dalsegno !== undefined || tocoda !== undefined) {
      this.found.jumps = true;
    }
    const loud = numberOf(dynamics);
    if (loud !== undefined) this.velocity = toVelocity((loud * FORTE) / 100);
    const bpm = numberOf(tempo);
    if (bpm === undefined || bpm <= 0) return false;
    shared.tempos.push({ at: this.at(offset), bpm });
    return true;
  }

  private at(offset: number | undefined): Ticks {
    return Math.max(0, this.position + ((offset ?? 0) * PPQ) / this.divisions);
  }

  private note(note: XmlElement): void {
    const grace = childOf(note, 'grace') !== undefined;
    const chord = childOf(note, 'chord') !== undefined;
    const duration = this.durationOf(note);
    if (!chord && !grace) {
      this.flush(this.graces);
      this.graces = [];
      this.begun = this.position;
      this.moveTo(this.position + duration);
    }
    if (childOf(note, 'rest') || childOf(note, 'cue')) return;
    this.found.notes++;
    if (textOf(note, 'notehead') === 'slash') {
      this.found.slashes++;
      return;
    }
    // A note that is tied to one before it is not struck again.
    if (childrenOf(note, 'tie').every(({ attributes }) => attributes.type === 'start') === false) {
      return;
    }
    const way = wayOfNote(note, this.head);
    if (way === undefined) {
      const place = childOf(note, 'unpitched') ?? childOf(note, 'pitch');
      const [step, octave] = [place?.children[0]?.text ?? '?', place?.children.at(-1)?.text ?? ''];
      const said = `${step}${octave}, ${textOf(note, 'notehead') ?? 'normal'} head`;
      this.found.unknown.set(said, (this.found.unknown.get(said) ?? 0) + 1);
      return;
    }
    const attack = numberOf(note.attributes.attack);
    const by = attack === undefined ? undefined : (attack * PPQ) / this.divisions;
    const velocity = this.velocityOf(note);
    if (grace) {
      this.graces.push({ way, velocity, ...(by !== undefined && { attack: by }) });
      return;
    }
    const roll = rollOf(note, duration);
    this.group.strokes.push({
      way,
      velocity,
      at: this.begun,
      sounds: this.begun + (by ?? 0),
      graces: [],
      ...(roll && { roll }),
    });
  }

  private velocityOf(note: XmlElement): number {
    const said = numberOf(note.attributes.dynamics);
    if (said !== undefined) return toVelocity((said * FORTE) / 100);
    if (childOf(note, 'notehead')?.attributes.parentheses === 'yes') return GHOST;
    const marks = childrenOf(note, 'notations').flatMap((one) => childrenOf(one, 'articulations'));
    const accent = marks.some((one) => childOf(one, 'accent') ?? childOf(one, 'strong-accent'));
    return toVelocity(this.velocity + (accent ? HARDER : 0));
  }

  /** Also of grace notes after which nothing comes. */
  private finish(): void {
    this.flush(this.graces);
    this.graces = [];
    this.flush();
  }

  /** Gives grace notes to the notes they belong to; the next notes have those that came since. */
  private flush(next: ReadGrace[] = []): void {
    const { graces, strokes } = this.group;
    const left = new Set(graces);
    for (const stroke of strokes) {
      const own = graces.filter((one) => left.has(one) && one.way === stroke.way);
      own.forEach((one) => left.delete(one));
      this.strokes.push(own.length > 0 ? { ...stroke, graces: own } : stroke);
    }
    const at = strokes[0]?.at ?? this.begun;
    for (const { way, velocity, attack } of left) {
      this.strokes.push({ way, velocity, at, sounds: at + (attack ?? -PPQ / 24), graces: [] });
    }
    this.group = { graces: next, strokes: [] };
  }
}

/** Bars through a stem as so many strokes: each halves the plain value of the note, from eighths on. */
function rollOf(note: XmlElement, duration: Ticks): ReadStroke['roll'] {
  const tremolo = childrenOf(note, 'notations')
    .flatMap((one) => childrenOf(one, 'ornaments'))
    .flatMap((one) => childrenOf(one, 'tremolo'))
    .find(({ attributes }) => (attributes.type ?? 'single') === 'single');
  const marks = numberOf(tremolo?.text);
  if (!marks || marks < 1 || marks > 5 || !Number.isInteger(marks)) return undefined;
  const base = { half: 2, whole: 1, eighth: 8, '16th': 16, '32nd': 32 }[
    textOf(note, 'type') ?? 'quarter'
  ];
  const stroke = (4 * PPQ) / (Math.max(4, base ?? 4) * 2 ** marks);
  const strokes = Math.round(duration / stroke);
  return strokes >= 2 && strokes <= 512 ? { strokes, room: duration } : undefined;
}

function barline(element: XmlElement, shared: ReadMeasure): void {
  const repeat = childOf(element, 'repeat');
  if (repeat?.attributes.direction === 'forward') shared.repeats.begins = true;
  if (repeat?.attributes.direction === 'backward') {
    const times = Math.round(numberOf(repeat.attributes.times) ?? 2);
    shared.repeats.ends = Math.max(2, Math.min(64, times));
  }
  const ending = childOf(element, 'ending');
  if (ending?.attributes.type === 'start') {
    shared.endings = (ending.attributes.number ?? '')
      .split(/[\s,]+/)
      .map(Number)
      .filter((n) => Number.isInteger(n) && n > 0);
  } else if (ending) shared.endingStops = true;
}
