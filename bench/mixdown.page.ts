/** Runs in the page: the engine against a graph of audio nodes, on the same hits and sounds. */
import {
  renderScore,
  soundsFor,
  compileScore,
  notesIn,
  STRIP_PIECES,
  type Score,
} from '../src/core/engine';
import { usualStrip, type KitSound } from '../src/core/sound';
import { minute } from './material';

const RATE = 48_000;
const SECONDS = 60;

/** Milliseconds of both, the better of three runs each. */
export async function compare(): Promise<{ engine: number; graph: number }> {
  const score = compileScore(minute());
  const sounds = soundsFor(notesIn(score), RATE);
  let engine = Infinity;
  let graph = Infinity;
  for (let round = 0; round < 3; round++) {
    let start = performance.now();
    const { left } = renderScore(score, { sounds, to: SECONDS });
    engine = Math.min(engine, performance.now() - start);
    start = performance.now();
    const other = await renderGraph(score, sounds);
    graph = Math.min(graph, performance.now() - start);
    if (silent(left) || silent(other)) throw new Error('A mixdown was silent');
  }
  return { engine, graph };
}

const silent = (samples: Float32Array) => samples.every((x) => Math.abs(x) < 0.01);

/** The same with nodes: one source and gain a hit, made in one-second chunks, two filters a strip. */
async function renderGraph(score: Score, sounds: readonly KitSound[]): Promise<Float32Array> {
  const context = new OfflineAudioContext(2, SECONDS * RATE, RATE);
  const buffers = new Map(
    sounds.map(({ note, alternates }) => [
      note,
      alternates.map(({ body }) => {
        const buffer = context.createBuffer(1, body.length, RATE);
        buffer.copyToChannel(body as Float32Array<ArrayBuffer>, 0);
        return buffer;
      }),
    ]),
  );
  const strips = new Map(
    [...new Set(score.strips)].map((index) => {
      const setting = usualStrip(STRIP_PIECES[index]);
      const pan = new StereoPannerNode(context, { pan: setting.pan });
      pan.connect(context.destination);
      const filters = [0, 1].map((i) => {
        const filter = setting.filters[i] ?? { kind: 'peak', frequency: 900, q: 1, gain: 1 };
        return new BiquadFilterNode(context, {
          type: filter.kind === 'peak' ? 'peaking' : (filter.kind as BiquadFilterType),
          frequency: filter.frequency,
          Q: filter.q,
          gain: filter.gain ?? 0,
        });
      });
      filters[0].connect(filters[1]).connect(pan);
      return [index, filters[0]] as const;
    }),
  );
  let next = 0;
  const schedule = (until: number) => {
    for (; next < score.seconds.length && score.seconds[next] < until; next++) {
      const buffer = buffers.get(score.notes[next])![next % 4];
      const source = new AudioBufferSourceNode(context, { buffer });
      const gain = new GainNode(context, { gain: (score.velocities[next] / 127) ** 1.7 });
      source.connect(gain).connect(strips.get(score.strips[next])!);
      source.start(score.seconds[next]);
    }
  };
  schedule(1.1);
  for (let second = 1; second < SECONDS; second++) {
    void context.suspend(second).then(() => {
      schedule(second + 1.1);
      void context.resume();
    });
  }
  return (await context.startRendering()).getChannelData(0);
}

/** A five-minute render, for its memory. */
export function fiveMinutes(): number {
  const song = minute();
  const [place] = song.places;
  const long = {
    ...song,
    places: Array.from({ length: 5 }, (_, i) => ({ ...place, id: `a${i}` })),
  };
  return renderScore(compileScore(long)).left.length;
}
