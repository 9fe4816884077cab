import { findPattern, placeOfSpan, type Section, type Song } from '../model';
import { barTicks, type Ticks } from '../time';
import {
  barLinesOf,
  laidPlaces,
  placeName,
  sectionTicks,
  stackOf,
  type LaidPlace,
  type LaidSpan,
} from '../weave';
import { touchedBars } from './marks';
import { ENERGY_SPAN, isOfDraft, SPAN } from './names';

/** What a draft would do to a bar: fill it, leave it because of a lock, a hand, another origin. */
export const BAR_STATES = ['empty', 'drafted', 'by hand', 'elsewhere', 'locked'] as const;
export type BarState = (typeof BAR_STATES)[number];

/** The bars of a song as a draft sees them. */
export interface DraftReport {
  /** One a bar of the song. */
  bars: readonly BarState[];
  counts: Readonly<Record<BarState, number>>;
}

const reports = new WeakMap<Song, DraftReport>();

/** What each bar of a song is to a draft. Linear in bars, and in the hits of drafted patterns that are new. */
export function reportOf(song: Song): DraftReport {
  let report = reports.get(song);
  if (!report) reports.set(song, (report = reported(song)));
  return report;
}

/** Why a section is not drafted; undefined where it is. */
export function heldSection(song: Song, section: Section): 'locked' | 'taken' | undefined {
  const places = song.places.filter((place) => place.section === section.id);
  if (song.locked || section.locked || places.some((place) => place.locked)) return 'locked';
  const length = sectionTicks(section);
  // What plays the whole kit, over all of it, and comes from elsewhere.
  const own = section.spans
    .filter(
      (span) =>
        !isOfDraft(song, span, section.id) && span.pieces === 'all' && span.mode === 'replace',
    )
    .flatMap((span) => placeOfSpan(span, length) ?? [])
    .sort((a, b) => a.from - b.from);
  let covered = 0;
  for (const { from, to } of own) if (from <= covered) covered = Math.max(covered, to);
  return covered >= length ? 'taken' : undefined;
}

function reported(song: Song): DraftReport {
  const bars = laidPlaces(song).flatMap((laid) => {
    const lines = barLinesOf(laid.section);
    const stack = stackOf(laid);
    const held = heldSection(song, laid.section);
    const removed = removedBars(laid);
    return lines.slice(0, -1).map((line, bar): BarState => {
      if (held === 'locked') return 'locked';
      const state = stateOf(song, stack, { from: line, to: lines[bar + 1] });
      if (state === 'locked' || state === 'by hand') return state;
      if (removed(bar)) return 'by hand';
      return held === 'taken' && state !== 'empty' ? 'elsewhere' : state;
    });
  });
  const counts = Object.fromEntries(BAR_STATES.map((state) => [state, 0])) as Record<
    BarState,
    number
  >;
  for (const state of bars) counts[state]++;
  return { bars, counts };
}

/** The bars of each place that a draft leaves as they are, note for note, counted from the start of the place. */
export function heldBars(song: Song): number[][] {
  const { bars } = reportOf(song);
  return laidPlaces(song).map(({ firstBar, section }) =>
    bars
      .slice(firstBar, firstBar + section.bars)
      .flatMap((state, bar) => (state === 'drafted' || state === 'empty' ? [] : [bar])),
  );
}

/** Tells of each bar of a place whether a drafted overlay was taken out of it by hand. */
function removedBars({ place, section }: LaidPlace): (bar: number) => boolean {
  const there = new Set(place.overlay.map(({ id }) => id));
  const gone = (place.drafted ?? []).filter((id) => !there.has(id));
  return (bar) =>
    gone.some((id) => {
      if (id === `${SPAN}crash`) return bar === 0;
      if (id === `${SPAN}join`) return bar === section.bars - 1;
      const [, from, to] = /-(\d+)-(\d+)$/.exec(id) ?? [];
      return from !== undefined && bar + 1 >= Number(from) && bar + 1 <= Number(to);
    });
}

/**
 * The state of a bar. It is left where a pattern from elsewhere plays all of it, and where anything in it was changed
 * by hand. A part that lies over a bar for some pieces, or for some beats, stays where it is: the
 * draft goes on around it.
 */
function stateOf(
  song: Song,
  stack: readonly LaidSpan[],
  { from, to }: { from: Ticks; to: Ticks },
): BarState {
  let state: BarState = 'empty';
  for (const lies of stack) {
    if (lies.from >= to || lies.to <= from) continue;
    const pattern = findPattern(song, lies.span.pattern);
    if (!pattern) continue;
    if (!pattern.drafted) {
      // What is local was changed here by hand; the rest was brought from elsewhere.
      if (pattern.local) state = 'by hand';
      else if (state !== 'by hand' && state !== 'locked' && takesAll(lies, from, to)) {
        state = 'elsewhere';
      } else if (state === 'empty') state = 'drafted';
      continue;
    }
    if (pattern.locked) {
      state = 'locked';
      continue;
    }
    const changed = touchedBars(pattern);
    const at = (Math.max(from, lies.from) - lies.from + lies.offset) % pattern.length;
    const bar = Math.floor((at + 1e-6) / barTicks(pattern.meter));
    if (changed === undefined || changed.has(bar)) state = 'by hand';
    else if (state === 'empty') state = 'drafted';
  }
  return state;
}

const takesAll = ({ span, from, to }: LaidSpan, start: Ticks, end: Ticks) =>
  span.pieces === 'all' && span.mode === 'replace' && from <= start + 1 && to >= end - 1;

/** “drafted 58 of 64 bars · 4 locked · 2 changed by hand”. */
export function saidReport({ bars, counts }: DraftReport): string {
  const parts = [`drafted ${counts.drafted} of ${bars.length} bars`];
  if (counts.locked > 0) parts.push(`${counts.locked} locked`);
  if (counts['by hand'] > 0) parts.push(`${counts['by hand']} changed by hand`);
  if (counts.elsewhere > 0) parts.push(`${counts.elsewhere} from elsewhere`);
  if (counts.empty > 0) parts.push(`${counts.empty} empty`);
  return parts.join(' · ');
}

/**
 * Which places play something of their own because their energy is not that of their section, as a sentence; empty
 * where none does.
 */
export function saidApart(song: Song): string {
  const apart = laidPlaces(song).filter(({ place }) =>
    place.overlay.some(
      (span) => span.id.startsWith(ENERGY_SPAN) && isOfDraft(song, span, place.id),
    ),
  );
  if (apart.length === 0) return '';
  const names = apart.slice(0, 4).map((laid) => placeName(song, laid));
  if (apart.length > 4) names.push(`${apart.length - 4} more`);
  const list = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names[0];
  const [verb, their] = apart.length > 1 ? ['stand', 'their'] : ['stands', 'its'];
  const said = `${list} ${verb} apart by energy: what that changes is laid over ${their} section.`;
  return said.charAt(0).toUpperCase() + said.slice(1);
}

/** Which bars the next draft leaves, as a sentence: “The next draft leaves bars 3 and 7 to 9 as they are.” */
export function saidLeft({ bars }: DraftReport): string {
  const left = bars.flatMap((state, bar) =>
    state === 'drafted' || state === 'empty' ? [] : [bar + 1],
  );
  return left.length > 0
    ? `The next draft leaves ${saidBarList(left)} as ${left.length === 1 ? 'it is' : 'they are'}.`
    : 'The next draft may change every bar. Change one by hand, or lock its section, and it stays.';
}

/** “bars 3, 7 to 9 and 12”. */
export function saidBarList(bars: readonly number[]): string {
  const runs = runsOf(bars);
  const said = runs.map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`));
  const shown = said.slice(0, 8);
  if (said.length > 8) shown.push(`${said.length - 8} more stretches`);
  const list = shown.length > 1 ? `${shown.slice(0, -1).join(', ')} and ${shown.at(-1)}` : shown[0];
  return `${bars.length === 1 ? 'bar' : 'bars'} ${list}`;
}

/** Numbers in order as runs of those that follow each other, first and last. */
export function runsOf(numbers: readonly number[]): [first: number, last: number][] {
  const runs: [number, number][] = [];
  for (const one of numbers) {
    const last = runs.at(-1);
    if (last && one === last[1] + 1) last[1] = one;
    else runs.push([one, one]);
  }
  return runs;
}
