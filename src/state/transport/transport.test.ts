import { Player } from '@/audio/player';
import { emptySong } from '@/core/model';
import { PPQ } from '@/core/time';
import { laidPlaces } from '@/core/weave';
import { demoSongs } from '@/demo';
import { edit } from '../session/edit';
import { useWorkbench } from '../store';
import { openBench } from '../testing';
import * as transport from './transport';

jest.mock('@/workers');
jest.mock('@/audio/player');

const [song] = demoSongs();
const BAR = 4 * PPQ;
const other = song.patterns[2];
const state = () => useWorkbench.getState();

/** The one player of the page, as a recording of what it was told. */
let only: jest.Mocked<Player>;
const player = () => (only ??= jest.mocked(Player).mock.instances[0] as jest.Mocked<Player>);
const standAt = (tick: number) =>
  Object.defineProperty(player(), 'tick', { value: tick, configurable: true });
/** What the page does once a frame is drawn. */
const frame = () => new Promise((later) => setTimeout(later, 5));

let disconnect: () => void;
beforeEach(async () => {
  openBench(song, { songId: song.id, hear: 'song', stage: 'gather', placeId: song.places[1].id });
  disconnect = transport.connectPlayer();
  standAt(0);
  jest.mocked(player().play).mockResolvedValue(true);
  await frame();
  jest.clearAllMocks();
});
afterEach(() => disconnect());

const lastHeard = () => player().hear.mock.lastCall!;

describe('what the player is told', () => {
  test('is each edit once, after the frame it is drawn in', async () => {
    edit({ type: 'rename song', name: 'A' });
    edit({ type: 'set tempo', bpm: 90 });
    expect(player().hear).not.toHaveBeenCalled();
    await frame();
    expect(player().hear).toHaveBeenCalledTimes(1);
    expect(lastHeard()[0].bpm).toBe(90);
  });

  test('is where to loop: what was drawn in the song, and all of a pattern', async () => {
    transport.setSongLoop({ from: BAR, to: 3 * BAR });
    await frame();
    expect(lastHeard()[1]).toEqual({ from: BAR, to: 3 * BAR });
    useWorkbench.setState({ patternId: other.id });
    transport.setHear('pattern');
    expect(lastHeard()[1]).toEqual({ from: 0, to: other.length });
  });

  test('is to stop when another song is opened, and to begin at its start', async () => {
    useWorkbench.setState({ playing: true });
    await frame();
    useWorkbench.setState({ songId: 'another' });
    await frame();
    expect(player().stop).toHaveBeenCalled();
    expect(player().locate).toHaveBeenLastCalledWith(0);
  });
});

describe('the next candidate', () => {
  const { start } = laidPlaces(song)[1];
  const tryOut = async (wait: 'bar' | 'beat' | 'none', at: number) => {
    useWorkbench.setState({ playing: true });
    transport.audition({ pattern: song.patterns[0], wait });
    await frame();
    standAt(at);
    transport.audition({ pattern: other, wait });
    await frame();
    return lastHeard()[2];
  };

  test('waits for the next bar line', async () => {
    expect(await tryOut('bar', start + PPQ + 7)).toBe(start + BAR);
  });

  test('waits for the next beat', async () => {
    expect(await tryOut('beat', start + PPQ + 7)).toBe(start + 2 * PPQ);
    expect(await tryOut('beat', start + BAR - 1)).toBe(start + BAR);
  });

  test('or comes at once', async () => {
    expect(await tryOut('none', start + PPQ + 7)).toBeUndefined();
  });

  test('alone begins at its own beginning', () => {
    transport.setHear('pattern');
    useWorkbench.setState({ playing: true });
    transport.audition({ pattern: song.patterns[0], wait: 'bar' });
    transport.audition({ pattern: other, wait: 'bar' });
    expect(player().locate).toHaveBeenLastCalledWith(0);
  });

  test('starts the loop where nothing plays', () => {
    transport.setSongLoop({ from: 2 * BAR, to: 4 * BAR });
    transport.audition({ pattern: other, wait: 'bar' });
    expect(player().play).toHaveBeenLastCalledWith(2 * BAR, false);
  });
});

describe('play', () => {
  test('goes on from where it stands, but not from outside the loop', async () => {
    standAt(5 * BAR);
    await transport.play();
    expect(player().play).toHaveBeenLastCalledWith(5 * BAR, false);
    transport.setSongLoop({ from: BAR, to: 2 * BAR });
    await transport.play();
    expect(player().play).toHaveBeenLastCalledWith(BAR, false);
  });

  test('counts in when it is asked to, and stops with the same key', () => {
    transport.toggleCountIn();
    transport.playOrStop();
    expect(player().play).toHaveBeenLastCalledWith(0, true);
    useWorkbench.setState({ playing: true });
    transport.playOrStop();
    expect(player().stop).toHaveBeenCalled();
  });

  test('says why nothing is heard: an empty song, a held-back or an unknown engine', async () => {
    const said = () => state().notices.at(-1)?.message;
    jest.mocked(player().play).mockResolvedValue(false);
    await transport.play();
    expect(said()).toMatch(/holds sound back/);
    useWorkbench.setState({ audio: 'unsupported' });
    await transport.play();
    expect(said()).toMatch(/cannot run the sound engine/);
    openBench({ ...emptySong('e', 'E', 'p'), patterns: [] }, { hear: 'song' });
    await transport.play();
    expect(said()).toMatch(/nothing to play yet/);
  });
});

describe('song and pattern', () => {
  test('are each heard again from where they were left', () => {
    standAt(6 * BAR);
    useWorkbench.setState({ patternId: other.id });
    transport.setHear('pattern');
    standAt(PPQ);
    transport.setHear('song');
    expect(player().locate).toHaveBeenLastCalledWith(6 * BAR);
    transport.toggleHear();
    expect(player().locate).toHaveBeenLastCalledWith(PPQ);
  });

  test('a pattern loops the bars that some steps lie in, sixteen at most', () => {
    const long = { ...other, length: 40 * BAR };
    openBench({ ...song, patterns: [long] }, { hear: 'pattern', patternId: long.id });
    transport.loopBarsOf([BAR + 10, 3 * BAR - 1]);
    expect(state().patternLoop).toEqual({ from: BAR, to: 3 * BAR });
    transport.loopBarsOf([0, 39 * BAR]);
    expect(state().patternLoop).toEqual({ from: 0, to: 16 * BAR });
  });

  test('the start of what is heard is the start of its loop', () => {
    transport.setSongLoop({ from: 2 * BAR, to: 4 * BAR });
    transport.toStart();
    expect(player().locate).toHaveBeenLastCalledWith(2 * BAR);
    transport.locate(-50);
    expect(player().locate).toHaveBeenLastCalledWith(0);
  });

  test('the click is turned on and off', async () => {
    transport.toggleClick();
    await frame();
    expect(player().setClick).toHaveBeenLastCalledWith(true);
    transport.toggleClick();
    await frame();
    expect(player().setClick).toHaveBeenLastCalledWith(false);
  });
});
