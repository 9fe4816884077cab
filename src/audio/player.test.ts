import { demoSongs } from '@/demo';
import { compileScore, notesIn } from '@/core/engine';
import type { FromEngine, ToEngine } from './messages';
import { Player, type AudioState } from './player';

const [song] = demoSongs();

/** What a page gives the player, in so far as it uses it; what was posted is kept. */
class FakeContext {
  static suspended = false;
  static broken = false;
  state = FakeContext.suspended ? 'suspended' : 'running';
  outputLatency = 0;
  destination = {};
  audioWorklet = {
    addModule: () => (FakeContext.broken ? Promise.reject(new Error('no')) : Promise.resolve()),
  };
  resume = () => new Promise<void>(() => {});
}

let posted: ToEngine[];
let hurried: number[];
let port: { onmessage?: (event: { data: FromEngine }) => void };

class FakeNode {
  port = { postMessage: (message: ToEngine) => posted.push(message) };
  constructor() {
    port = this.port as typeof port;
  }
  connect() {}
}

function setUp() {
  const states: AudioState[] = [];
  const playing: boolean[] = [];
  const player = new Player({
    onOutputs: () => {},
    onAudio: (state) => states.push(state),
    onPlaying: (now) => playing.push(now),
    makeSound: async ({ sound }) => ({ note: sound, zones: [] }),
    hurry: (notes) => hurried.push(...notes),
  });
  player.hear(song, undefined);
  return { player, states, playing };
}

const report = (tick: number, playing = true, ended = false): void =>
  port.onmessage!({
    data: {
      tick,
      playing,
      ended,
      time: 0,
      peaks: [0.5, 0.25],
      tracks: Float32Array.of(0.5, 3, -20),
      master: { reduction: 0, limited: 0, shortTerm: -20, integrated: -18, peak: 0.5 },
    },
  });

const of = <T extends ToEngine['type']>(type: T) =>
  posted.filter((message): message is Extract<ToEngine, { type: T }> => message.type === type);

beforeEach(() => {
  posted = [];
  hurried = [];
  FakeContext.suspended = false;
  FakeContext.broken = false;
  Object.assign(globalThis, { AudioContext: FakeContext, AudioWorkletNode: FakeNode });
});

describe('play', () => {
  test('hands the engine the score, and all its sounds before it starts', async () => {
    const { player, states } = setUp();
    expect(await player.play(0, false)).toBe(true);
    expect(states.at(-1)).toBe('running');
    const start = posted.findIndex((message) => message.type === 'play');
    const loaded = posted
      .slice(0, start)
      .flatMap((m) => (m.type === 'sound' ? [m.sound.note] : []));
    expect(loaded.sort()).toEqual(notesIn(compileScore(song)).sort());
    expect(of('score')).toHaveLength(1);
    // They were asked for before anything that may be heard later.
    expect([...new Set(hurried)].sort()).toEqual(loaded.sort());
  });

  test('says where, and counts in when it is asked to', async () => {
    const { player } = setUp();
    await player.play(3840, true);
    const [{ from, countIn }] = of('play');
    expect(from).toBe(3840);
    expect(countIn?.before).toHaveLength(4);
    expect(countIn?.before[0]).toBeCloseTo((4 * 60) / 104, 6);
  });

  test('that the browser holds back is told apart from sound that cannot be had', async () => {
    FakeContext.suspended = true;
    const held = setUp();
    expect(await held.player.play(0, false)).toBe(false);
    expect(held.states.at(-1)).toBe('blocked');
    FakeContext.broken = true;
    const broken = setUp();
    expect(await broken.player.play(0, false)).toBe(false);
    expect(broken.states.at(-1)).toBe('unsupported');
    expect(of('play')).toEqual([]);
  });
});

describe('while sounds are being computed', () => {
  /** A player whose sounds come, or fail, when they are let. */
  function slow() {
    const waiting: { done: () => void; fail: () => void }[] = [];
    const failed: number[] = [];
    const player = new Player({
      onOutputs: () => {},
      onAudio: () => {},
      onPlaying: () => {},
      makeSound: ({ sound }) =>
        new Promise((done, fail) =>
          waiting.push({
            done: () => done({ note: sound, zones: [] }),
            fail: () => fail(new Error('no')),
          }),
        ),
      hurry: () => {},
      onFailed: (note) => failed.push(note),
    });
    player.hear(song, undefined);
    const all = (what: 'done' | 'fail') => waiting.splice(0).forEach((one) => one[what]());
    return { player, failed, all, waiting };
  }
  const asked = async (waiting: readonly unknown[]) => {
    while (waiting.length === 0) await new Promise((later) => setTimeout(later));
  };

  test('stop takes the play back: nothing plays afterwards', async () => {
    const { player, all, waiting } = slow();
    const play = player.play(0, false);
    await asked(waiting);
    expect(player.isStarting).toBe(true);
    player.stop();
    expect(player.isStarting).toBe(false);
    all('done');
    await play;
    expect(of('play')).toEqual([]);
    await player.play(960, false);
    expect(of('play').map(({ from }) => from)).toEqual([960]);
  });

  test('a sound that failed is told, left out, and tried again the next time', async () => {
    const { player, failed, all, waiting } = slow();
    const play = player.play(0, false);
    await asked(waiting);
    all('fail');
    expect(await play).toBe(true);
    expect(of('play')).toHaveLength(1);
    expect(failed.sort()).toEqual(notesIn(compileScore(song)).sort());
    player.stop();
    const again = player.play(0, false);
    await asked(waiting);
    all('done');
    await again;
    expect(
      of('sound')
        .map(({ sound }) => sound.note)
        .sort(),
    ).toEqual(failed.sort());
  });
});

describe('while it plays', () => {
  test('an edited song is handed over at once, with new sounds only', async () => {
    const { player } = setUp();
    await player.play(0, false);
    const sounds = of('sound').length;
    player.hear({ ...song, name: 'edited' }, undefined);
    await Promise.resolve();
    expect(of('score')).toHaveLength(2);
    expect(of('sound')).toHaveLength(sounds);
  });

  test('the tick follows the engine’s reports, and rests where it was stopped', async () => {
    const { player, playing } = setUp();
    await player.play(0, false);
    report(3840);
    expect(player.tick).toBeGreaterThanOrEqual(3840);
    expect(player.tick).toBeLessThan(3840 + 960);
    player.stop();
    report(3900, false);
    expect(playing).toEqual([true, false]);
    expect(player.tick).toBeGreaterThanOrEqual(3840);
    expect(player.tick).toBeLessThan(3840 + 960);
  });

  test('a loop turns the tick back to its start', async () => {
    const { player } = setUp();
    player.hear(song, { from: 0, to: 960 });
    await player.play(0, false);
    report(959.9);
    await new Promise((later) => setTimeout(later, 20));
    expect(player.tick).toBeLessThan(480);
    expect(of('score').at(-1)?.loop?.to).toBe(960);
  });

  test('the peak is the louder side, and silence once no report comes', async () => {
    const { player } = setUp();
    await player.play(0, false);
    report(1);
    expect(player.peak).toBe(0.5);
    await new Promise((later) => setTimeout(later, 250));
    expect(player.peak).toBe(0);
  });
});

test('a song that has come to its end is at its start again', async () => {
  const { player } = setUp();
  await player.play(0, false);
  report(3840);
  report(7680, false, true);
  expect(player.tick).toBe(0);
});

test('a struck row is heard without the transport, with the piece’s own note and lane', async () => {
  const { player } = setUp();
  await player.strike(song, 'hihat', 'open', 77);
  expect(of('strike')).toMatchObject([{ strike: { note: 46, velocity: 77, choke: 1 } }]);
  expect(of('play')).toEqual([]);
});
