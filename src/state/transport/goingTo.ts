import { barTicks, pulseTicks, type Ticks } from '@/core/time';
import { barOfSong, laidPlaces, placeName, songBars, songTicks, tickOfBar } from '@/core/weave';
import { setCursor } from '../shape/shape';
import { selectPlace } from '../weave/choosing';
import { shownPattern, useWorkbench } from '../store';
import { heardSong, locate, playhead } from './transport';

/** A place that can be gone to by its name. */
export interface Goal {
  /** What is gone to, in words: "bar 25", "chorus 2, bar 25". */
  name: string;
  go(): void;
}

/** Whether it is the pattern that is heard and gone through, and not the song. */
const isInPattern = () => useWorkbench.getState().hear === 'pattern';

/** How many bars can be gone to: of the pattern that is heard, or of the song. */
function barsThere(): number {
  const state = useWorkbench.getState();
  const shown = shownPattern(state);
  if (isInPattern() && shown) return Math.ceil(shown.length / barTicks(shown.meter) - 1e-9);
  return state.history ? songBars(state.history.song) : 0;
}

/** Where a bar begins, or a beat of it, both counted from 1. */
function tickOf(bar: number, beat: number): Ticks {
  const state = useWorkbench.getState();
  const shown = shownPattern(state);
  if (isInPattern() && shown) {
    return (bar - 1) * barTicks(shown.meter) + (beat - 1) * pulseTicks(shown.meter);
  }
  const { song } = state.history!;
  const start = tickOfBar(song, bar);
  const { meter } = barOfSong(song, start);
  return start + Math.min((beat - 1) * pulseTicks(meter), barTicks(meter) - 1);
}

/** Goes to a tick of what is heard; in Shape the cursor goes along. */
export function goToTick(tick: Ticks): void {
  const state = useWorkbench.getState();
  locate(tick);
  const shown = shownPattern(state);
  if (state.stage === 'shape' && isInPattern() && shown) {
    const at = Math.max(0, Math.min(shown.length - shown.step, tick));
    setCursor(state.cursor.piece, Math.floor(at / shown.step + 1e-6) * shown.step);
  }
}

/**
 * What some words lead to: "25" and "bar 25" to a bar, "25.3" to a beat of it, "chorus 2" or the beginning
 * of it to a section. Nothing where there is no such place.
 */
export function goalsOf(words: string): Goal[] {
  const text = words.trim().toLowerCase();
  const { history } = useWorkbench.getState();
  if (text === '' || !history) return [];
  const number = /^(?:bar\s*)?(\d{1,5})(?:\s*[.: ·]\s*(\d{1,2}))?$/.exec(text);
  const [bar, beat] = [Number(number?.[1]), Number(number?.[2] ?? 1)];
  const bars = barsThere();
  const inBars: Goal[] =
    number && bar >= 1 && bar <= bars && beat >= 1
      ? [
          {
            name: `bar ${bar}${number[2] ? `, beat ${beat}` : ''}`,
            go: () => goToTick(tickOf(bar, beat)),
          },
        ]
      : [];
  const { song } = history;
  const inSections = laidPlaces(song).flatMap((laid): Goal[] => {
    const name = placeName(song, laid);
    if (number || !name.toLowerCase().includes(text.replace(/\s+/g, ' '))) return [];
    return [
      {
        name: `${name}, bar ${laid.firstBar + 1}`,
        go: () => {
          selectPlace(laid.place.id);
          if (!isInPattern()) locate(laid.start);
        },
      },
    ];
  });
  return [...inBars, ...inSections];
}

/** Goes on or back by beats or bars, from where it is heard, or in Shape from the cursor. */
export function jump(by: 1 | -1, unit: 'beat' | 'bar', extend = false): void {
  const state = useWorkbench.getState();
  const shown = shownPattern(state);
  const song = heardSong(state);
  if (state.stage === 'shape' && shown) {
    const size = unit === 'bar' ? barTicks(shown.meter) : pulseTicks(shown.meter);
    const next = nextLine(state.cursor.at, size, by);
    const last = Math.ceil(shown.length / shown.step - 1e-9) - 1;
    setCursor(state.cursor.piece, Math.max(0, Math.min(last * shown.step, next)), extend);
    return;
  }
  if (!song) return;
  const now = playhead();
  const { start, meter, bar } = barOfSong(song, now);
  if (unit === 'beat') {
    const next = start + nextLine(now - start, pulseTicks(meter), by);
    return locate(Math.max(0, Math.min(songTicks(song), next)));
  }
  // Back goes to the beginning of the bar first.
  const to = by > 0 ? bar + 2 : now - start > pulseTicks(meter) / 4 ? bar + 1 : bar;
  locate(tickOfBar(song, Math.max(1, Math.min(songBars(song), to))));
}

/** The next line of a grid after or before a place. */
function nextLine(at: Ticks, size: Ticks, by: 1 | -1): Ticks {
  const lines = at / size;
  return (by > 0 ? Math.floor(lines + 1e-6) + 1 : Math.ceil(lines - 1e-6) - 1) * size;
}
