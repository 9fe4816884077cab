import { findPattern, type Song } from '../model';
import { barTicks, type Ticks } from '../time';
import { barLinesOf, laidPlaces, stackOf, type LaidPlace, type LaidSpan } from '../weave';
import { touchedBars } from './marks';

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

function reported(song: Song): DraftReport {
  const bars = laidPlaces(song).flatMap((laid) => {
    const lines = barLinesOf(laid.section);
    const stack = stackOf(laid);
    return lines
      .slice(0, -1)
      .map((line, bar) => stateOf(song, laid, stack, { from: line, to: lines[bar + 1] }));
  });
  const counts = Object.fromEntries(BAR_STATES.map((state) => [state, 0])) as Record<
    BarState,
    number
  >;
  for (const state of bars) counts[state]++;
  return { bars, counts };
}

function stateOf(
  song: Song,
  { place, section }: LaidPlace,
  stack: readonly LaidSpan[],
  { from, to }: { from: Ticks; to: Ticks },
): BarState {
  const here = stack.filter((lies) => lies.from < to && lies.to > from);
  const patterns = here.flatMap(({ span }) => findPattern(song, span.pattern) ?? []);
  if (song.locked || section.locked || place.locked || patterns.some(({ locked }) => locked)) {
    return 'locked';
  }
  let state: BarState = 'empty';
  for (const lies of here) {
    const pattern = findPattern(song, lies.span.pattern);
    if (!pattern) continue;
    if (!pattern.drafted) {
      // What is local was changed here by hand; the rest was brought from elsewhere.
      state = pattern.local ? 'by hand' : 'elsewhere';
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

/** “drafted 58 of 64 bars · 4 locked · 2 changed by hand”. */
export function saidReport({ bars, counts }: DraftReport): string {
  const parts = [`drafted ${counts.drafted} of ${bars.length} bars`];
  if (counts.locked > 0) parts.push(`${counts.locked} locked`);
  if (counts['by hand'] > 0) parts.push(`${counts['by hand']} changed by hand`);
  if (counts.elsewhere > 0) parts.push(`${counts.elsewhere} from elsewhere`);
  if (counts.empty > 0) parts.push(`${counts.empty} empty`);
  return parts.join(' · ');
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
function saidBarList(bars: readonly number[]): string {
  const runs: [number, number][] = [];
  for (const bar of bars) {
    const last = runs.at(-1);
    if (last && bar === last[1] + 1) last[1] = bar;
    else runs.push([bar, bar]);
  }
  const said = runs.map(([a, b]) => (a === b ? `${a}` : `${a} to ${b}`));
  const shown = said.slice(0, 8);
  if (said.length > 8) shown.push(`${said.length - 8} more stretches`);
  const list = shown.length > 1 ? `${shown.slice(0, -1).join(', ')} and ${shown.at(-1)}` : shown[0];
  return `${bars.length === 1 ? 'bar' : 'bars'} ${list}`;
}
