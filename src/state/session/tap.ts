import { MAX_BPM, MIN_BPM } from '@/core/time';
import { laidPlaces } from '@/core/weave';
import { openSongNow, useWorkbench } from '../store';
import { notify } from '../notices/notices';
import { tempoCommands } from '../weave/tempos';
import { commitGesture, preview, songBefore } from './edit';

/** After a pause this long, in ms, the next tap is a first one. */
const PAUSE = 2500;
/** So many taps back are counted: hands settle into a tempo. */
const COUNTED = 9;

let taps: number[] = [];
let ending: ReturnType<typeof setTimeout> | undefined;

/** Quarter notes a minute of some taps, to a tenth: the mean of the gaps between them. */
export function bpmOfTaps(times: readonly number[]): number | undefined {
  if (times.length < 3) return undefined;
  const gap = (times[times.length - 1] - times[0]) / (times.length - 1);
  const bpm = Math.round(600_000 / gap) / 10;
  return bpm >= MIN_BPM && bpm <= MAX_BPM ? bpm : undefined;
}

/**
 * One tap of a tempo, a quarter note after the last one: from the third on the tempo follows. It goes
 * where the chosen place has its own, or else to the song. All taps in a row are one step of undo.
 */
export function tapTempo(now = performance.now()): void {
  if (taps.length > 0 && now - taps[taps.length - 1] > PAUSE) taps = [];
  taps = [...taps.slice(-(COUNTED - 1)), now];
  const bpm = bpmOfTaps(taps);
  if (bpm === undefined) {
    if (taps.length === 1) notify('Tap on: from the third tap on the tempo follows.');
    return;
  }
  const { placeId, stage } = useWorkbench.getState();
  // Each tap is shown from how the song was before the first one.
  const laid = laidPlaces(songBefore() ?? openSongNow());
  const here = laid.find(({ place }) => place.id === placeId);
  const own = stage === 'weave' && here?.tempos.some(({ at }) => at === 0);
  preview(own && here ? tempoCommands(here, 0, bpm) : [{ type: 'set tempo', bpm }], 'tap a tempo');
  clearTimeout(ending);
  ending = setTimeout(commitGesture, PAUSE);
}
