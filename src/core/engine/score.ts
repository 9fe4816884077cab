import {
  layoutOf,
  articulationOf,
  SOUND_COUNT,
  swellOf,
  soundOf,
  trackOfHit,
  type GuideNote,
  type SectionStrip,
  type Song,
  type SoundId,
} from '../model';
import { pluckOf } from '../sound';
import {
  barNumber,
  barTicks,
  clickTicks,
  PPQ,
  toVelocity,
  type Seconds,
  type TempoMap,
  type Ticks,
} from '../time';
import {
  barOfSong,
  guideStart,
  laidPlaces,
  songTicks,
  tempoOfSong,
  timeline,
  type TimedHit,
} from '../weave';
import { compileDesk, routesOf, type Routes } from './deskTable';

/**
 * A song compiled for the engine: typed arrays that can be handed to another thread, in musical time,
 * with everything sorted that has to be. Entry `i` of each array is stroke `i`, ordered by when it
 * sounds.
 */
export interface Score {
  /** Rows of the tempo map (see `TempoMap`). */
  tempo: Float64Array;
  /** When each stroke sounds, and when the step it belongs to falls. */
  ticks: Float64Array;
  homes: Float64Array;
  /** Which sound of the kit each stroke has, and which stroke of it it is: that decides its alternate. */
  notes: Uint16Array;
  alternates: Uint16Array;
  velocities: Uint8Array;
  /** Strokes of one group cut each other off; 0 is no group. */
  chokes: Uint8Array;
  /** Which lane of the desk each stroke goes through. */
  lanes: Uint16Array;
  /** Which row of `touches` a stroke has, counted from 1; 0 is none. */
  touch: Uint32Array;
  /** Rows of `TOUCH_SIZE` numbers: choke, pan, rate, reverse, room, echo. */
  touches: Float32Array;
  /** When the click sounds, and which clicks start a bar. */
  clicks: Float64Array;
  downbeats: Uint8Array;
  /** What is mixed otherwise from a tick on: rows of `MOVE_SIZE` numbers, tick, strip, what, value, and how long that takes in seconds. */
  moves: Float64Array;
  end: Ticks;
}

export const TOUCH_SIZE = 6;
export const MOVE_SIZE = 5;
/** What a row of `moves` sets; `send` is the first bus, the others follow. */
export const MOVES = { level: 0, pan: 1, mute: 2, send: 3 } as const;

/** The arrays of a score that have an entry for each stroke. */
export const STROKE_ARRAYS = [
  'ticks',
  'homes',
  'notes',
  'alternates',
  'velocities',
  'chokes',
  'lanes',
  'touch',
] as const;

/** The arrays of a score in a form that is filled stroke by stroke. */
type Strokes = Pick<Score, (typeof STROKE_ARRAYS)[number]>;

function emptyStrokes(count: number): Strokes {
  return {
    ticks: new Float64Array(count),
    homes: new Float64Array(count),
    notes: new Uint16Array(count),
    alternates: new Uint16Array(count),
    velocities: new Uint8Array(count),
    chokes: new Uint8Array(count),
    lanes: new Uint16Array(count),
    touch: new Uint32Array(count),
  };
}

export function compileScore(song: Song): Score {
  const hits = timeline(song);
  const tempo = tempoOfSong(song);
  const end = songTicks(song);
  const guided = guideNotes(song, end);
  const swelling = hits.filter(({ touch }) => touch?.swell);
  const strokes = emptyStrokes(hits.length + guided.length + swelling.length);
  const routes = routesOf(song.kit, layoutOf(song));
  const touches = new Touches();
  fillHits(strokes, hits, song, routes, tempo, touches);
  fillGuides(strokes, guided, hits.length, routes.guideLane, tempo, touches);
  fillSwells(strokes, hits, hits.length + guided.length, tempo, touches);
  const ordered = strokes.ticks.length > hits.length ? inOrder(strokes) : strokes;
  countAlternates(ordered);
  return {
    tempo: tempo.rows.slice(),
    ...ordered,
    touches: touches.done(),
    ...clicksOf(song),
    moves: movesOf(song, tempo),
    end,
  };
}

function fillHits(
  strokes: Strokes,
  hits: readonly TimedHit[],
  song: Song,
  routes: Routes,
  tempo: TempoMap,
  touches: Touches,
): void {
  const { kit } = song;
  const layout = layoutOf(song);
  const known = new Map<string, { note: SoundId; choke: number; lane: number }>();
  hits.forEach((hit, i) => {
    const { piece, articulation, channel } = hit;
    const key = `${piece}/${articulation}/${channel}`;
    let way = known.get(key);
    if (!way) {
      const track = trackOfHit(layout, kit, { piece, articulation, channel });
      way = {
        note: soundOf(piece, articulation, kit),
        choke: articulationOf(piece, articulation, kit).choke ?? 0,
        lane: routes.laneOf(piece, track),
      };
      known.set(key, way);
    }
    strokes.ticks[i] = hit.tick;
    strokes.homes[i] = hit.home;
    strokes.notes[i] = way.note;
    strokes.velocities[i] = hit.velocity;
    strokes.chokes[i] = way.choke;
    strokes.lanes[i] = way.lane;
    if (!hit.touch) return;
    const { choke = 0, pan = 0, tune = 0, reverse, room = 0, echo = 0 } = hit.touch;
    const stopped = choke > 0 ? tempo.secondsAt(hit.tick + choke) - tempo.secondsAt(hit.tick) : 0;
    const rate = 2 ** (tune / 1200);
    strokes.touch[i] = touches.row([stopped, pan, rate, reverse ? 1 : 0, room, echo]);
  });
}

/** The longest that a swell leads up to its stroke. */
export const LONGEST_SWELL: Seconds = 4;

/** A swell is a stroke of its own, backwards, that ends where the stroke it leads up to begins. */
function fillSwells(
  strokes: Strokes,
  hits: readonly TimedHit[],
  from: number,
  tempo: TempoMap,
  touches: Touches,
): void {
  let i = from;
  hits.forEach(({ tick, home, velocity, touch }, of) => {
    if (!touch?.swell) return;
    const at = tempo.secondsAt(tick);
    const lasts = Math.min(LONGEST_SWELL, at - tempo.secondsAt(Math.max(0, tick - touch.swell)));
    const { pan = 0, tune = 0, room = 0, echo = 0 } = touch;
    strokes.ticks[i] = lasts > 0 ? tempo.tickAt(at - lasts) : tick;
    strokes.homes[i] = home;
    strokes.notes[i] = swellOf(strokes.notes[of]);
    strokes.velocities[i] = velocity;
    strokes.lanes[i] = strokes.lanes[of];
    // At the very start of a song there is no time before it.
    strokes.touch[i] = touches.row([lasts || 1e-3, pan, 2 ** (tune / 1200), 1, room, echo]);
    i++;
  });
}

/** A note of a guide where it falls in the song. */
type PlacedNote = Pick<GuideNote, 'at' | 'length' | 'note' | 'velocity'>;

/** The notes of the guides that are heard, within the song. */
function guideNotes(song: Song, end: Ticks): PlacedNote[] {
  return song.guides
    .filter(({ muted, level }) => !muted && level > 0)
    .flatMap((guide) => {
      const start = guideStart(song, guide);
      return guide.notes.map((note) => ({
        ...note,
        at: start + note.at,
        velocity: toVelocity(note.velocity * guide.level),
      }));
    })
    .filter(({ at }) => at >= 0 && at < end);
}

/** A guide's note is a string that is stopped when the note ends. */
function fillGuides(
  strokes: Strokes,
  notes: readonly PlacedNote[],
  from: number,
  lane: number,
  tempo: TempoMap,
  touches: Touches,
): void {
  notes.forEach(({ at, length, note, velocity }, n) => {
    const i = from + n;
    strokes.ticks[i] = at;
    strokes.homes[i] = at;
    strokes.notes[i] = pluckOf(note);
    strokes.velocities[i] = velocity;
    strokes.lanes[i] = lane;
    const stopped = tempo.secondsAt(at + length) - tempo.secondsAt(at);
    strokes.touch[i] = touches.row([Math.round(stopped * 1000) / 1000, 0, 1, 0, 0, 0]);
  });
}

/** The strokes ordered by when they sound. */
function inOrder(strokes: Strokes): Strokes {
  const { ticks } = strokes;
  const order = Uint32Array.from(ticks, (_, i) => i);
  order.sort((a, b) => ticks[a] - ticks[b] || a - b);
  return strokesOf(strokes, order);
}

/** Some of the strokes, in an order. */
export function strokesOf(strokes: Strokes, order: Uint32Array): Strokes {
  const picked = emptyStrokes(order.length);
  for (const name of STROKE_ARRAYS) {
    const [to, from] = [picked[name], strokes[name]];
    for (let i = 0; i < order.length; i++) to[i] = from[order[i]];
  }
  return picked;
}

/**
 * Counts the strokes of each sound along the song: its alternates take turns, so that no two strokes in a
 * row are the same sample, and a stroke is the same from wherever playing began.
 */
function countAlternates({ notes, alternates }: Strokes): void {
  const counts = new Uint16Array(SOUND_COUNT);
  for (let i = 0; i < notes.length; i++) alternates[i] = counts[notes[i]]++;
}

/** Rows of what is done to sounds; equal ones share a row. */
class Touches {
  private readonly rows: number[][] = [];
  private readonly known = new Map<string, number>();

  /** @returns the number of the row, counted from 1 */
  row(values: number[]): number {
    const key = values.join();
    let index = this.known.get(key);
    if (index === undefined) {
      index = this.rows.push(values);
      this.known.set(key, index);
    }
    return index;
  }

  /** A new array for each score: it is handed to another thread and gone from here then. */
  done(): Float32Array {
    return Float32Array.from(this.rows.flat());
  }
}

function clicksOf(song: Song): Pick<Score, 'clicks' | 'downbeats'> {
  const clicks: Ticks[] = [];
  const downbeats: number[] = [];
  for (const { section, start } of laidPlaces(song)) {
    for (let bar = 0; bar < section.bars; bar++) {
      const line = barNumber(section.meters, bar);
      for (const beat of clickTicks(line.meter)) {
        clicks.push(start + line.start + beat);
        downbeats.push(beat === 0 ? 1 : 0);
      }
    }
  }
  return { clicks: Float64Array.from(clicks), downbeats: Uint8Array.from(downbeats) };
}

/**
 * Of each track that a section mixes otherwise, how it is from the start of each place on. It takes as long to
 * get there as the section says; what has not got there when the section ends goes on from where it is.
 */
function movesOf(song: Song, tempo: TempoMap): Float64Array {
  // As the desk has them: what is soloed elsewhere is muted here.
  const { strips, buses } = compileDesk(song);
  const places = laidPlaces(song);
  const rows: number[][] = [];
  layoutOf(song).tracks.forEach(({ id }, strip) => {
    const told = places.map(({ section }) => section.mix?.strips.find(({ track }) => track === id));
    const sent = new Set(told.flatMap((one) => one?.sends?.map(({ bus }) => bus) ?? []));
    const own = strips[strip];
    /** @param here nothing once the song is over: it is as everywhere again */
    const moveTo = (start: Ticks, here: SectionStrip | undefined) => {
      const {
        level = own.level,
        pan = own.pan,
        mute = own.mute,
        sends = [],
        ramp = 0,
      } = here ?? {};
      const takes = tempo.secondsAt(start + ramp * PPQ) - tempo.secondsAt(start);
      const move = (what: number, value: number) => rows.push([start, strip, what, value, takes]);
      move(MOVES.level, level);
      move(MOVES.pan, pan);
      move(MOVES.mute, mute ? 1 : 0);
      for (const bus of sent) {
        const to = buses.findIndex((one) => one.id === bus);
        const share = [...sends, ...own.sends].find((send) => send.bus === bus)?.level ?? 0;
        if (to >= 0) move(MOVES.send + to, share);
      }
    };
    told.forEach((here, i) => {
      if (here ?? told[i - 1]) moveTo(places[i].start, here);
    });
    if (told.at(-1)) moveTo(places.at(-1)!.end, undefined);
  });
  return Float64Array.from(rows.sort(([a], [b]) => a - b).flat());
}

/** A score with the strokes of some steps only: it ends where they do. */
export function scoreWithin(
  score: Score,
  { from, to }: Readonly<Record<'from' | 'to', Ticks>>,
): Score {
  const { homes } = score;
  const kept = Uint32Array.from(homes.keys()).filter((i) => homes[i] >= from && homes[i] < to);
  return { ...score, ...strokesOf(score, kept), end: to };
}

/** One bar of clicks before a start, at the tempo and meter found there. */
export interface CountIn {
  /** How long before the start each click sounds, the first one longest. */
  before: Float64Array;
}

export function countInAt(song: Song, tick: Ticks): CountIn {
  const { meter } = barOfSong(song, tick);
  const tempo = tempoOfSong(song);
  const secondsPerTick: Seconds = 60 / tempo.bpmAt(tick) / PPQ;
  const bar = barTicks(meter);
  return {
    before: Float64Array.from(clickTicks(meter), (beat) => (bar - beat) * secondsPerTick),
  };
}

/** The notes a score needs sounds for, in the order in which they are first struck. */
export function notesIn(score: Pick<Score, 'notes'>): SoundId[] {
  return [...new Set(score.notes)];
}

/** The strokes of a stretch of a score that plays round and round, in the order they sound there. */
export interface LoopCue {
  from: Ticks;
  to: Ticks;
  /** Where in the loop each stroke sounds, in ticks of the song. */
  ticks: Float64Array;
  /** Which stroke of the score it is. */
  strokes: Uint32Array;
}

/**
 * The strokes of a loop by their steps: one that is played before the loop's start, but belongs to
 * its first step, sounds at the end of each round, just before that step comes again.
 */
export function compileLoop(
  { ticks, homes }: Pick<Score, 'ticks' | 'homes'>,
  from: Ticks,
  to: Ticks,
): LoopCue {
  const length = to - from;
  const inside: number[] = [];
  for (let i = 0; i < homes.length; i++) {
    if (homes[i] >= from - 1e-6 && homes[i] < to - 1e-6) inside.push(i);
  }
  const at = inside.map((i) => from + ((((ticks[i] - from) % length) + length) % length));
  const order = inside.map((_, n) => n).sort((a, b) => at[a] - at[b] || a - b);
  return {
    from,
    to,
    ticks: Float64Array.from(order, (n) => at[n]),
    strokes: Uint32Array.from(order, (n) => inside[n]),
  };
}
