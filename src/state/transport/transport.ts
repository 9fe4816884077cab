import { Player, type TrackReading } from '@/audio/player';
import type { Song } from '@/core';
import type { MasterReading } from '@/core/engine';
import { Latest } from '@/core/memo';
import { soloedDry } from '@/core/tracks';
import { filesOf, type PieceId, type SampleHash, type SoundDesign } from '@/core/model';
import type { KitSound, Pcm } from '@/core/sound';
import { barsHolding } from '@/core/pattern';
import { barTicks, pulseTicks, type Hertz, type Ticks, type Velocity } from '@/core/time';
import {
  auditionRegion as regionOf,
  barAround,
  barOfSong,
  heardLoop as heardLoopOf,
  heardSong as heardSongOf,
  songTicks,
  startOf,
  type Listening,
  type Range,
} from '@/core/weave';
import { keepSound, keptSound } from '@/storage/keptSounds';
import { readSamples } from '@/storage/samples';
import { makeSoundAside, synthesiseFirst } from '@/workers';
import { mixedAsBefore } from '../balance/compared';
import { followMusic, readLive } from '../deliver/live';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { shownPattern, useWorkbench, type Audition, type Workbench } from '../store';

let made: Player | undefined;

/** The one player of the page. */
function player(): Player {
  // Where tracks are sent was set on this machine before: it holds from the first sound on.
  if (!made) void readLive();
  return (made ??= new Player({
    onAudio: (audio) => useWorkbench.setState({ audio }),
    onOutputs: (outputs) => useWorkbench.setState({ outputs }),
    onDropout: (dropouts) => useWorkbench.setState({ dropouts }),
    onPlaying: (playing) => useWorkbench.setState({ playing }),
    onMusic: followMusic,
    makeSound,
    hurry: synthesiseFirst,
    onFailed: saySoundFailed,
  }));
}

/** A sound as it is kept from before, or else computed now, and kept. */
async function makeSound(design: SoundDesign, rate: Hertz): Promise<KitSound> {
  const kept = await keptSound(design, rate);
  if (kept) return kept;
  const sound = await makeSoundAside(design, rate, await readSamples(filesOf(design)));
  void keepSound(design, rate, sound);
  return sound;
}

/** Said once for all the sounds that fail together. */
function saySoundFailed(): void {
  notify('A sound could not be made, and is silent. Press play to try it again.', 'error');
}

/** What someone at this workbench listens to. */
function listening(state: Workbench): Listening {
  const { hear, muted, soloed, placeId, songLoop, patternLoop, audition: candidate } = state;
  return {
    hear,
    muted,
    soloed,
    pattern: shownPattern(state),
    opened: state.opened,
    place: placeId,
    candidate,
    songLoop,
    patternLoop,
  };
}

const songs = new Latest<readonly unknown[], Song>(2, 1);
const drySongs = new Latest<Song, Song>(1, 1);

/** What is heard: the song, or the shown pattern as a song of its own. */
export function heardSong(state: Workbench): Song | undefined {
  const song = state.history?.song;
  if (!song) return undefined;
  if (state.beside) return state.beside.song;
  const heard = mixedAsBefore(state, written(state, song));
  if (!state.soloDry) return heard;
  return drySongs.of(
    '',
    (known) => known === heard,
    heard,
    () => soloedDry(heard),
  );
}

/** What is heard of the song as it is written. */
function written(state: Workbench, song: Song): Song {
  const what = listening(state);
  const { hear, pattern, candidate, muted, soloed, place, songLoop } = what;
  // While none of what decides it has changed, it is the very same song: nothing is compiled anew.
  const alone = hear === 'pattern';
  const { bpm, guides, places, kit, mixes, layouts, layout } = song;
  const around = alone ? [bpm, guides, places, kit, mixes, layouts, layout] : [song];
  const key = [hear, pattern, candidate, muted, soloed, place, songLoop, what.opened, ...around];
  const same = (known: readonly unknown[]) => key.every((part, i) => part === known[i]);
  return songs.of('', same, key, () => heardSongOf(song, what));
}

/** Where a candidate is tried: the loop of the song, or else the place that is selected. */
export function auditionRegion(state: Workbench): Range | undefined {
  const song = state.history?.song;
  return song && regionOf(song, listening(state));
}

/** The loop that holds for what is heard; a pattern always loops. */
export function heardLoop(state: Workbench): Range | undefined {
  const song = state.history?.song;
  if (state.beside) return state.beside.loop;
  return song && heardLoopOf(song, listening(state));
}

/** Keeps the player at what the workbench says. Called once by the shell. */
export function connectPlayer(): () => void {
  const sync = (state: Workbench, before?: Workbench) => {
    const song = heardSong(state);
    if (song)
      player().hear(song, heardLoop(state), state.beside?.at ?? boundaryOf(state, before, song));
    if (state.click !== before?.click) player().setClick(state.click);
    if (before && state.songId !== before.songId) {
      player().stop();
      player().locate(0);
    }
  };
  const opened = heardSong(useWorkbench.getState());
  if (opened) player().prepareSong(opened);
  player().prepare();
  sync(useWorkbench.getState());
  let queued = false;
  let since = useWorkbench.getState();
  const unsubscribe = useWorkbench.subscribe((_, previous) => {
    if (queued) return;
    queued = true;
    since = previous;
    // Compiling a long song can wait for what the eye waits for.
    platform.afterFrame(() => {
      queued = false;
      sync(useWorkbench.getState(), since);
    });
  });
  return () => {
    unsubscribe();
    player().stop();
  };
}

/** The beat or bar line at which a new candidate begins; undefined is at once. */
function boundaryOf(
  state: Workbench,
  before: Workbench | undefined,
  song: Song,
): Ticks | undefined {
  const { audition, playing, hear } = state;
  if (!before || !playing || !audition || audition === before.audition) return undefined;
  if (audition.wait === 'none' || hear !== before.hear) return undefined;
  const now = player().tick;
  const { from, to } = barAround(song, now);
  if (audition.wait === 'bar') return to;
  const beat = pulseTicks(barOfSong(song, now).meter);
  return Math.min(to, from + (Math.floor((now - from) / beat) + 1) * beat);
}

/** Hears a candidate from now on, or the song as it is again; starts playing when nothing plays. */
export function audition(next: Audition | undefined): void {
  const { playing, audition: before } = useWorkbench.getState();
  useWorkbench.setState({ audition: next });
  if (!next) return;
  const heardNow = heardSong(useWorkbench.getState());
  if (!heardNow) return;
  if (!playing) void play(heardLoop(useWorkbench.getState())?.from);
  // Alone, each candidate is heard from its own beginning.
  else if (useWorkbench.getState().hear === 'pattern' && before?.pattern !== next.pattern) {
    player().hear(heardNow, heardLoop(useWorkbench.getState()));
    player().locate(0);
  }
}

/** Makes ready what a first stroke would wait for. Called while there is nothing else to do. */
export function warmUpSound(): void {
  player().warmUp();
}

/** Computes the sounds of pieces that may be heard soon. */
export function prepareSounds(pieces: readonly PieceId[]): void {
  player().prepare(pieces);
}

/** Opens sound and has these pieces at hand: what is played next is heard at once. Called on a press. */
export function readySounds(pieces: readonly PieceId[]): void {
  void player().getReady(pieces);
}

export async function play(from?: Ticks): Promise<void> {
  const state = useWorkbench.getState();
  const song = heardSong(state);
  if (!song || songTicks(song) === 0) {
    notify('There is nothing to play yet: write a beat in Shape, or put a pattern into the song.');
    return;
  }
  const loop = heardLoop(state);
  player().hear(song, loop);
  let start = from ?? player().tick;
  if (from === undefined && loop && (start < loop.from || start >= loop.to)) start = loop.from;
  if (start >= songTicks(song)) start = 0;
  if (await player().play(start, state.countIn)) return;
  const { audio } = useWorkbench.getState();
  notify(
    audio === 'unsupported'
      ? 'This browser cannot run the sound engine. Everything else works; for sound, use a current browser.'
      : 'The browser holds sound back until you press something on the page. Press play again.',
    'error',
  );
}

export function stop(): void {
  player().stop();
}

export function playOrStop(): void {
  // Pressed while sounds are still being computed, it takes the play back.
  if (useWorkbench.getState().playing || player().isStarting) stop();
  else void play();
}

/** Goes to a tick of what is heard, and plays on from there if it plays. */
export function locate(to: Ticks): void {
  player().locate(Math.max(0, to));
}

export function toStart(): void {
  locate(heardLoop(useWorkbench.getState())?.from ?? 0);
}

export function strike(piece: PieceId, articulation: string, velocity: Velocity): void {
  const { history } = useWorkbench.getState();
  if (history) void player().strike(history.song, piece, articulation, velocity);
}

/** Makes the sounds that play these files anew: they are here again. */
export function reloadSounds(files: readonly SampleHash[]): void {
  player().reload(files);
}

/** Sounds samples as they are. */
export function hearSound(pcm: Pcm): void {
  const { history } = useWorkbench.getState();
  if (history) void player().hearSamples(history.song, pcm);
}

/** Tick that is heard now, of what is heard. */
export function playhead(): Ticks {
  return made?.tick ?? 0;
}

/**
 * Tick of the song that is heard now. While a pattern is heard by itself it is where that was opened, or where
 * the song first plays it: the playhead counts in the pattern then.
 */
export function songPlayhead(): Ticks {
  const state = useWorkbench.getState();
  const song = state.history?.song;
  const pattern = shownPattern(state);
  if (!song || state.hear === 'song' || !pattern) return playhead();
  return startOf(song, pattern, state.opened);
}

/** How loud it is now, 0 to 1. */
export function peakNow(): number {
  return made?.peak ?? 0;
}

/** What a track was like a moment ago, by its number in the layout; undefined while nothing sounds. */
export function readingOfTrack(track: number): TrackReading | undefined {
  return made?.readingOf(track);
}

/** What all drums were like a moment ago; undefined before anything was heard. */
export function masterReading(): MasterReading | undefined {
  return made?.master;
}

/** Where the song and the pattern were left, so that going back and forth loses neither place. */
let left = { songId: '', song: 0, pattern: 0 };

/** Hears the pattern or the song, from where each was left. */
export function setHear(hear: Workbench['hear']): void {
  const state = useWorkbench.getState();
  if (state.hear === hear) return;
  if (left.songId !== state.songId) left = { songId: state.songId ?? '', song: 0, pattern: 0 };
  left[state.hear] = player().tick;
  useWorkbench.setState({ hear });
  const next = heardSong(useWorkbench.getState());
  if (next) player().hear(next, heardLoop(useWorkbench.getState()));
  player().locate(next && left[hear] < songTicks(next) ? left[hear] : 0);
}

export function toggleHear(): void {
  setHear(useWorkbench.getState().hear === 'song' ? 'pattern' : 'song');
}

export function toggleClick(): void {
  useWorkbench.setState(({ click }) => ({ click: !click }));
}

export function toggleCountIn(): void {
  useWorkbench.setState(({ countIn }) => ({ countIn: !countIn }));
}

/** Loops a stretch of the song; none plays on to the end. */
export function setSongLoop(songLoop: Range | undefined): void {
  useWorkbench.setState({ songLoop });
}

/** Loops the bars of the pattern that hold some steps, as many as a loop can have. */
export function loopBarsOf(ats: readonly Ticks[]): void {
  const pattern = shownPattern(useWorkbench.getState());
  if (!pattern || ats.length === 0) return;
  const bar = barTicks(pattern.meter);
  const bars = barsHolding(pattern, ats);
  const from = bars.from * bar;
  const to = Math.min(bars.to * bar, from + MAX_LOOP_BARS * bar, pattern.length);
  setPatternLoop(from === 0 && to >= pattern.length ? undefined : { from, to });
}

/** The longest loop in a pattern: sixteen bars. */
export const MAX_LOOP_BARS = 16;

/** Loops some bars of the pattern; none loops all of it. */
export function setPatternLoop(patternLoop: Range | undefined): void {
  useWorkbench.setState({ patternLoop });
}
