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
    onAudio: (state) => states.push(state),
    onPlaying: (now) => playing.push(now),
    synthesise: async (note) => ({ note, choke: 0, alternates: [] }),
    hurry: (notes) => hurried.push(...notes),
  });
  player.setSong(song);
  return { player, states, playing };
}

const report = (position: number, playing = true): void =>
  port.onmessage!({ data: { position, playing, time: 0, peaks: [0.5, 0.25] } });

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

  test('says where in seconds, and counts in when it is asked to', async () => {
    const { player } = setUp();
    await player.play(3840, true);
    const [{ from, countIn }] = of('play');
    expect(from).toBeCloseTo((4 * 60) / 104, 6);
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

describe('while it plays', () => {
  test('an edited song is handed over at once, with new sounds only', async () => {
    const { player } = setUp();
    await player.play(0, false);
    const sounds = of('sound').length;
    player.setSong({ ...song, name: 'edited' });
    await Promise.resolve();
    expect(of('score')).toHaveLength(2);
    expect(of('sound')).toHaveLength(sounds);
  });

  test('the tick follows the engine’s reports, and rests where it was stopped', async () => {
    const { player, playing } = setUp();
    await player.play(0, false);
    report((4 * 60) / 104);
    expect(player.tick).toBeGreaterThanOrEqual(3840);
    expect(player.tick).toBeLessThan(3840 + 960);
    player.stop();
    report((4 * 60) / 104, false);
    expect(playing).toEqual([true, false]);
  });

  test('a loop turns the tick back to its start', async () => {
    const { player } = setUp();
    player.setLoop({ from: 0, to: 960 });
    await player.play(0, false);
    report(60 / 104 - 0.0001);
    await new Promise((later) => setTimeout(later, 20));
    expect(player.tick).toBeLessThan(480);
    expect(of('loop').at(-1)?.loop?.to).toBeCloseTo(60 / 104, 6);
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

test('a struck row is heard without the transport, with the piece’s own note and strip', async () => {
  const { player } = setUp();
  await player.strike('hihat', 'open', 77);
  expect(of('strike')).toEqual([expect.objectContaining({ note: 46, velocity: 77 })]);
  expect(of('play')).toEqual([]);
});
