import { ACCENT_FROM, articulationOf, findPiece, type PieceId, type Song } from '../model';
import { freeIds, mapHits, placeHits, removeHits } from '../pattern';
import { chance } from '../random';
import {
  barTicks,
  beatTicks,
  PPQ,
  pulseTicks,
  toVelocity,
  type Meter,
  type Ticks,
  type Velocity,
} from '../time';
import {
  barLinesOf,
  editAt,
  laidPlaces,
  positionAt,
  tempoOfSong,
  timeline,
  type Reach,
  type Stretch,
} from '../weave';
import { placedGuides } from './fit';

/** A stroke and a note this near belong together: a thirty-second note. */
const NEAR: Ticks = PPQ / 8;
/** Together is nearer than the ear tells apart, in seconds. Source: flams are heard from about 10 ms on. */
const TOGETHER = 0.01;

/** One moment of a strand beside a guide. */
export interface Meeting {
  tick: Ticks;
  is: 'together' | 'near' | 'strand alone' | 'guide alone';
  /** How much later the stroke is than the note, in ms; only where both are. */
  late?: number;
  /** A note that is struck harder than most of its guide. */
  accent?: boolean;
}

/** A bar of a strand beside a guide. */
export interface BarMeetings {
  /** Of the song, counted from 0. */
  bar: number;
  start: Ticks;
  meetings: Meeting[];
}

/** A strand beside a guide, over the whole song. */
export interface Alongside {
  bars: BarMeetings[];
  together: number;
  near: number;
  strandAlone: number;
  guideAlone: number;
  /** Of all moments of either, those in which both are, 0 to 100. */
  percent: number;
}

interface Note {
  tick: Ticks;
  accent: boolean;
  /** How hard it is struck beside the others of its guide: 0 the softest, 1 the hardest. */
  share: number;
}

/** The onsets of one guide in the song, chords once. */
function notesOf(song: Song, guideId: string): Note[] {
  const placed = placedGuides(song).find(({ guide }) => guide.id === guideId);
  if (!placed) return [];
  const { guide, start } = placed;
  const sorted = [...guide.notes].sort((a, b) => a.at - b.at);
  const mean = sorted.reduce((sum, { velocity }) => sum + velocity, 0) / Math.max(1, sorted.length);
  let [softest, hardest] = [127, 1];
  for (const { velocity } of sorted) {
    softest = Math.min(softest, velocity);
    hardest = Math.max(hardest, velocity);
  }
  const notes: Note[] = [];
  for (const { at, velocity } of sorted) {
    const tick = start + at;
    const accent = velocity >= Math.min(ACCENT_FROM, mean + 8);
    const last = notes.at(-1);
    if (last && tick - last.tick < PPQ / 32) last.accent ||= accent;
    else notes.push({ tick, accent, share: (velocity - softest) / Math.max(1, hardest - softest) });
  }
  return notes;
}

/**
 * How hard a drummer strikes with a note: harder on the beat than between, harder still on an accent, and with the
 * note's own strength; no two in a row quite alike.
 * @param at ticks from the start of the stretch
 */
function strengthOn(at: Ticks, { accent, share }: Note, meter: Meter): Velocity {
  const inBar = at % barTicks(meter);
  const on = (step: Ticks) => Math.abs(inBar - Math.round(inBar / step) * step) < PPQ / 24;
  const pulse = pulseTicks(meter);
  const beat = inBar < PPQ / 24 ? 100 : on(pulse) ? 96 : on(pulse / 2) || on(pulse / 3) ? 88 : 78;
  const by = (accent ? 12 : 0) + 10 * (share - 0.5) + 6 * (chance('with', at) - 0.5);
  return toVelocity(beat + by);
}

/** How a strand of the song lies beside a guide, bar by bar. Linear in strokes and notes. */
export function alongside(song: Song, guideId: string, piece: PieceId): Alongside {
  const notes = notesOf(song, guideId);
  const tempo = tempoOfSong(song);
  const strokes = timeline(song).filter((hit) => hit.piece === piece);
  const meetings: Meeting[] = [];
  let i = 0;
  let j = 0;
  while (i < strokes.length || j < notes.length) {
    const stroke = strokes[i]?.tick ?? Infinity;
    const note = notes[j]?.tick ?? Infinity;
    const next = notes[j + 1]?.tick ?? Infinity;
    if (Math.abs(stroke - note) <= NEAR && Math.abs(stroke - note) <= Math.abs(stroke - next)) {
      const late = tempo.secondsAt(stroke) - tempo.secondsAt(note);
      const is = Math.abs(late) < TOGETHER ? 'together' : 'near';
      meetings.push({ tick: note, is, late: late * 1000, accent: notes[j].accent });
      i++;
      j++;
    } else if (stroke < note) {
      meetings.push({ tick: stroke, is: 'strand alone' });
      i++;
    } else {
      meetings.push({ tick: note, is: 'guide alone', accent: notes[j].accent });
      j++;
    }
  }
  const end = laidPlaces(song).at(-1)?.end ?? 0;
  const heard = meetings.filter(({ tick }) => tick < end);
  const count = (is: Meeting['is']) => heard.filter((one) => one.is === is).length;
  const [together, near] = [count('together'), count('near')];
  return {
    bars: byBar(song, heard),
    together,
    near,
    strandAlone: count('strand alone'),
    guideAlone: count('guide alone'),
    percent: heard.length > 0 ? Math.round((100 * (together + near)) / heard.length) : 0,
  };
}

function byBar(song: Song, meetings: readonly Meeting[]): BarMeetings[] {
  const bars = laidPlaces(song).flatMap(({ section, start, firstBar }) =>
    barLinesOf(section)
      .slice(0, -1)
      .map((line, bar): BarMeetings => ({
        bar: firstBar + bar,
        start: start + line,
        meetings: [],
      })),
  );
  let bar = 0;
  for (const meeting of [...meetings].sort((a, b) => a.tick - b.tick)) {
    // What is a hair early belongs to the bar it leads into.
    while (bar + 1 < bars.length && meeting.tick + NEAR / 2 >= bars[bar + 1].start) bar++;
    bars[bar]?.meetings.push(meeting);
  }
  return bars;
}

/** What can be done to a strand so that it goes with a guide. */
export const FITTINGS = ['take out alone', 'add at accents', 'pull near', 'follow'] as const;
export type Fitting = (typeof FITTINGS)[number];

export interface FittingWish {
  guide: string;
  piece: PieceId;
  how: Fitting;
  place: string;
  /** Whole bars of the place, in ticks from its start. */
  stretch: Stretch;
  reach: Reach;
}

/** Why there is nothing to fit. */
const NOTHING: Readonly<Record<Fitting, string>> = {
  'take out alone': 'No stroke stands alone in these bars.',
  'add at accents': 'The reference part has no accents without a stroke in these bars.',
  'pull near': 'No stroke is near a note without being on it in these bars.',
  follow: 'The reference part is silent in these bars.',
};

/**
 * Fits a strand to a guide in a stretch of a place: takes out strokes that stand alone, adds strokes
 * where the guide has accents, pulls strokes that are near onto the timing of its notes, or makes the
 * strand anew from its notes.
 */
export function fitStrand(song: Song, wish: FittingWish): Song | string {
  const laid = laidPlaces(song).find(({ place }) => place.id === wish.place);
  if (!laid) return song;
  const { from } = wish.stretch;
  const to = Math.min(wish.stretch.to, laid.end - laid.start);
  const notes = notesOf(song, wish.guide)
    .map((note) => ({ ...note, at: note.tick - laid.start - from }))
    .filter(({ at }) => at >= -NEAR && at < to - from);
  const fitted = editAt(song, { place: wish.place, from, to }, wish.reach, (woven) => {
    const strand = woven.strands.find(({ piece }) => piece === wish.piece);
    const hits = strand?.hits ?? [];
    const near = (at: Ticks) => notes.find((note) => Math.abs(note.at - at) <= NEAR);
    const struck = (at: Ticks) => hits.some((hit) => Math.abs(hit.at + hit.push - at) <= NEAR);
    switch (wish.how) {
      case 'take out alone': {
        const alone = hits.filter((hit) => !near(hit.at + hit.push));
        return removeHits(woven, new Set(alone.map(({ id }) => id)));
      }
      case 'pull near': {
        const off = hits.filter((hit) => {
          const note = near(hit.at + hit.push);
          return note && Math.abs(note.at - hit.at - hit.push) > 1;
        });
        return mapHits(woven, new Set(off.map(({ id }) => id)), (hit) => ({
          ...hit,
          push: near(hit.at + hit.push)!.at - hit.at,
        }));
      }
      case 'add at accents':
        return added(
          woven,
          notes.filter(({ accent, at }) => accent && !struck(at)),
        );
      case 'follow':
        return added(removeHits(woven, new Set(hits.map(({ id }) => id))), notes);
    }
  });
  if (fitted === song) return NOTHING[wish.how];
  return fitted;

  function added(
    woven: Parameters<typeof placeHits>[0],
    wanted: readonly (Note & { at: Ticks })[],
  ) {
    const step = Math.min(woven.step, beatTicks(woven.meter) / 2);
    const ids = freeIds(woven);
    const there = woven.strands.find(({ piece }) => piece === wish.piece)?.hits ?? [];
    const taken = new Set(there.map(({ at }) => at));
    const usual = there[0];
    const articulation = usual?.articulation ?? articulationOf(wish.piece, '', song.kit).id;
    const hits = wanted.flatMap((note) => {
      const { at: tick } = note;
      const at = Math.round(tick / step) * step;
      if (at < 0 || at >= woven.length || taken.has(at)) return [];
      taken.add(at);
      const velocity = strengthOn(at, note, woven.meter);
      return [
        {
          piece: wish.piece,
          hit: { id: ids('guide'), at, push: tick - at, velocity, articulation },
        },
      ];
    });
    return hits.length === 0 || !findPiece(wish.piece, song.kit)
      ? woven
      : placeHits(woven, hits, song.kit);
  }
}

/** "3.2" for a tick of the song. */
export function saidTick(song: Song, tick: Ticks): string {
  const { bar, beat } = positionAt(song, tick);
  return `${bar}.${beat}`;
}
