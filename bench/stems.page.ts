/** Runs in a worker: twelve stems and the mix of a song of two minutes, as Deliver writes them. */
import {
  audioParts,
  partsOf,
  renderPart,
  soundsOfPart,
  USUAL_AUDIO,
  USUAL_NAMES,
  WavStream,
} from '../src/core/deliver';
import { compileScore, soundsFor } from '../src/core/engine';
import type { Song } from '../src/core/model';
import { timeline } from '../src/core/weave';
import { fullyMixed, minute } from './material';
import { renderGraph } from './mixdown.page';

const RATE = 48_000;

/** Two minutes on twelve tracks, each with all effects. */
function song(): Song {
  const one = minute();
  const [place] = one.places;
  const places = Array.from({ length: 2 }, (_, i) => ({ ...place, id: `a${i}` }));
  const pieces = [...new Set(timeline(one).map(({ piece }) => piece))];
  return fullyMixed({ ...one, places }, pieces);
}

/** Seconds of sound that were written, and milliseconds that it took. */
export async function stems(): Promise<{ seconds: number; ms: number; files: number }> {
  const long = song();
  const [part] = partsOf(long, {}, USUAL_NAMES);
  const parts = audioParts({ ...USUAL_AUDIO, stems: true, ending: 'bar' }, part);
  const notes = new Set(parts.flatMap((one) => [...soundsOfPart(one)]));
  const sounds = soundsFor([...notes], RATE);
  let seconds = 0;
  const start = performance.now();
  for (const one of parts) {
    const stream = new WavStream('24', RATE);
    const encoding = {
      add: (left: Float32Array, right: Float32Array) => void stream.bytes(left, right),
    };
    await renderPart(one, { sampleRate: RATE, sounds }, { encoding, beginning: encoding });
    if (stream.peak === 0) throw new Error(`${one.file} was silent`);
    seconds += stream.frames / RATE;
  }
  return { seconds, ms: performance.now() - start, files: parts.length };
}

/** Milliseconds of the engine and of a graph of nodes for a minute: the mix, and two of its tracks by themselves. */
export async function compare(): Promise<{ engine: number; graph: number }> {
  const whole = song();
  const one: Song = { ...whole, places: whole.places.slice(0, 1) };
  const [part] = partsOf(one, {}, USUAL_NAMES);
  const parts = audioParts({ ...USUAL_AUDIO, stems: true, ending: 'bar' }, part).filter(
    ({ track }) => track === undefined || track === 'kick' || track === 'hihat',
  );
  const sounds = soundsFor([...soundsOfPart(parts[0])], RATE);
  const nothing = { add() {} };
  let [engine, graph] = [0, 0];
  for (const one of parts) {
    let start = performance.now();
    await renderPart(one, { sampleRate: RATE, sounds }, { encoding: nothing, beginning: nothing });
    engine += performance.now() - start;
    start = performance.now();
    const left = await renderGraph(one.song, compileScore(one.song), sounds, {
      effects: true,
      only: one.track,
    });
    graph += performance.now() - start;
    if (left.every((x) => Math.abs(x) < 0.01)) throw new Error('A graph was silent');
  }
  return { engine, graph };
}
