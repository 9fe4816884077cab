/** Runs in the page: the engine against a graph of audio nodes, on the same hits and sounds. */
import type { Song } from '../src/core';
import {
  compileDesk,
  compileScore,
  laneOfPiece,
  notesIn,
  renderScore,
  soundsFor,
  type Score,
} from '../src/core/engine';
import type { KitSound } from '../src/core/sound';
import { TempoMap } from '../src/core/time';
import { minute } from './material';

const RATE = 48_000;
const SECONDS = 60;

/** Milliseconds of both, the better of three runs each. */
export async function compare(): Promise<{ engine: number; graph: number }> {
  const song = minute();
  const score = compileScore(song);
  const desk = compileDesk(song);
  const sounds = soundsFor(notesIn(score), RATE);
  let engine = Infinity;
  let graph = Infinity;
  for (let round = 0; round < 3; round++) {
    let start = performance.now();
    const { left } = renderScore(score, { sounds, desk, to: SECONDS });
    engine = Math.min(engine, performance.now() - start);
    start = performance.now();
    const other = await renderGraph(song, score, sounds);
    graph = Math.min(graph, performance.now() - start);
    if (silent(left) || silent(other)) throw new Error('A mixdown was silent');
  }
  return { engine, graph };
}

const silent = (samples: Float32Array) => samples.every((x) => Math.abs(x) < 0.01);

/** A room that rings as that of the engine does, and a bus that holds back, bends and limits. */
function roomAndBus(context: OfflineAudioContext) {
  const bus = new DynamicsCompressorNode(context, {
    threshold: -16,
    ratio: 2,
    attack: 0.012,
    release: 0.13,
  });
  const curve = Float32Array.from({ length: 1025 }, (_, i) => Math.tanh((i / 512 - 1) * 1.2));
  const limiter = new DynamicsCompressorNode(context, {
    threshold: -1,
    ratio: 20,
    attack: 0.0015,
    release: 0.06,
  });
  bus.connect(new WaveShaperNode(context, { curve })).connect(limiter).connect(context.destination);
  const ring = context.createBuffer(2, 0.42 * 1.4 * RATE, RATE);
  for (const side of [0, 1]) {
    ring.getChannelData(side).forEach((_, i, samples) => {
      samples[i] = Math.sin(i * i * (side + 1)) * 10 ** ((-3 * i) / RATE / 0.42);
    });
  }
  const room = new ConvolverNode(context, { buffer: ring });
  room.connect(bus);
  return { bus, room };
}

function echoInto(context: OfflineAudioContext, bus: AudioNode): AudioNode {
  const delay = new DelayNode(context, { delayTime: 0.375 });
  delay.connect(new GainNode(context, { gain: 0.4 })).connect(delay);
  delay.connect(bus);
  return delay;
}

/** Two filters, dynamics and drive, into a lane and its echo. @returns where it begins */
function chainInto(context: OfflineAudioContext, pan: AudioNode, echo: AudioNode): AudioNode {
  const filters = [120, 6000].map(
    (frequency) => new BiquadFilterNode(context, { type: 'peaking', frequency, gain: 2 }),
  );
  const dynamics = new DynamicsCompressorNode(context, { threshold: -24, ratio: 4 });
  const curve = Float32Array.from({ length: 1025 }, (_, i) => Math.tanh((i / 512 - 1) * 1.3));
  const drive = new WaveShaperNode(context, { curve });
  filters[0].connect(filters[1]).connect(dynamics).connect(drive).connect(pan);
  drive.connect(new GainNode(context, { gain: 0.3 })).connect(echo);
  return filters[0];
}

/** What goes into a graph besides two filters a lane and a room. */
interface Graph {
  /** On each lane two more filters, dynamics and drive, and a send into an echo. */
  effects?: boolean;
  /** Only what is struck on this piece. */
  only?: string;
}

/** The same with nodes: one source and gain a hit, made in one-second chunks, two filters a lane. */
export async function renderGraph(
  song: Song,
  score: Score,
  sounds: readonly KitSound[],
  { effects, only }: Graph = {},
): Promise<Float32Array> {
  const context = new OfflineAudioContext(2, SECONDS * RATE, RATE);
  const buffers = new Map(
    sounds.map(({ note, zones: [{ alternates }] }) => [
      note,
      alternates.map(([{ left }]) => {
        const buffer = context.createBuffer(1, left.length, RATE);
        buffer.copyToChannel(left as Float32Array<ArrayBuffer>, 0);
        return buffer;
      }),
    ]),
  );
  const { lanes } = compileDesk(song);
  const { bus, room } = roomAndBus(context);
  const echo = effects ? echoInto(context, bus) : undefined;
  const inputs = new Map(
    [...new Set(score.lanes)].map((index) => {
      const setting = lanes[index];
      const pan = new StereoPannerNode(context, { pan: setting.pan });
      pan.connect(bus);
      pan.connect(new GainNode(context, { gain: setting.room })).connect(room);
      const filters = [0, 1].map((i) => {
        const filter = setting.filters[i] ?? { kind: 'peak', frequency: 900, q: 1, gain: 1 };
        return new BiquadFilterNode(context, {
          type: filter.kind === 'peak' ? 'peaking' : (filter.kind as BiquadFilterType),
          frequency: filter.frequency,
          Q: filter.q,
          gain: filter.gain ?? 0,
        });
      });
      filters[0].connect(filters[1]).connect(effects ? chainInto(context, pan, echo!) : pan);
      return [index, filters[0]] as const;
    }),
  );
  const tempo = new TempoMap(score.tempo);
  const seconds = Array.from(score.ticks, (tick) => tempo.secondsAt(tick));
  const lane = only === undefined ? undefined : laneOfPiece(song, only, '');
  let next = 0;
  const schedule = (until: number) => {
    for (; next < seconds.length && seconds[next] < until; next++) {
      if (lane !== undefined && score.lanes[next] !== lane) continue;
      const buffer = buffers.get(score.notes[next])![next % 4];
      const source = new AudioBufferSourceNode(context, { buffer });
      const gain = new GainNode(context, { gain: (score.velocities[next] / 127) ** 1.7 });
      source.connect(gain).connect(inputs.get(score.lanes[next])!);
      source.start(seconds[next]);
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
  return renderScore(compileScore(long), { desk: compileDesk(long) }).left.length;
}
