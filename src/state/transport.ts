import { songOfPattern, auditioned, firstStartOf, barAround, laidPlaces, songTicks } from '@/core/weave';
import { Player } from '@/audio/player';
import type { Pattern, Song } from '@/core';
import type { PieceId } from '@/core/model';
import { passesOf } from '@/core/pattern';
import { barTicks, beatTicks, type Ticks, type Velocity } from '@/core/time';
import { synthesiseAside, synthesiseFirst } from '@/workers';
import { notify, shownPattern, silentRows, useWorkbench, type Audition, type Range, type Workbench } from './store';

let made: Player | undefined;

/** The one player of the page. */
function player(): Player {
  return (made ??= new Player({
    onAudio: (audio) => useWorkbench.setState({ audio }),
    onPlaying: (playing) => useWorkbench.setState({ playing }),
    synthesise: synthesiseAside,
    hurry: synthesiseFirst,
  }));
}

/** What was computed for hearing, for as long as what it was computed from is the same. */
let heard: { from: unknown[]; value: Song } | undefined;

function once(from: unknown[], compute: () => Song): Song {
  if (!heard || heard.from.some((part, i) => part !== from[i])) heard = { from, value: compute() };
  return heard.value;
}

/** The pattern without the strands that are muted, or not soloed. */
function heardStrands(state: Workbench, pattern: Pattern): Pattern {
  const silent = silentRows(pattern, state.muted, state.soloed);
  if (silent.size === 0) return pattern;
  const strands = pattern.strands.map((s) => (silent.has(s.piece) ? { ...s, hits: [] } : s));
  return { ...pattern, strands };
}

/** Passes of the pattern until everything in it was heard, as far as a loop may be long. */
export function heardPasses(pattern: Pattern): number {
  const most = Math.max(1, Math.floor((LONGEST_BARS * barTicks(pattern.meter)) / pattern.length));
  return Math.min(most, passesOf(pattern));
}

const LONGEST_BARS = 512;

/** What is heard: the song, or the shown pattern as a song of its own. */
export function heardSong(state: Workbench): Song | undefined {
  const song = state.history?.song;
  if (song && state.audition) return auditionedSong(state, song, state.audition);
  const pattern = shownPattern(state);
  if (!song || !pattern) return song;
  const { hear, muted, soloed } = state;
  if (hear === 'pattern') {
    return once([hear, pattern, song.tempo, song.guides, song.places, muted, soloed], () =>
      songOfPattern(
        song,
        heardStrands(state, pattern),
        heardPasses(pattern),
        firstStartOf(song, pattern.id),
      ),
    );
  }
  if (muted.length + soloed.length === 0) return song;
  return once([hear, song, pattern, muted, soloed], () => ({
    ...song,
    patterns: song.patterns.map((p) => (p === pattern ? heardStrands(state, p) : p)),
  }));
}

/** The song with the candidate in place of its drums, or the candidate alone. */
function auditionedSong(state: Workbench, song: Song, { pattern, pieces }: Audition): Song {
  const { hear } = state;
  const region = auditionRegion(state);
  if (hear === 'song' && region) {
    return once([hear, song, pattern, pieces, region.from, region.to], () =>
      auditioned(song, { pattern, ...(pieces && { pieces }) }, region.from, region.to),
    );
  }
  return once([hear, song.tempo, pattern, pieces], () => {
    const strands = pattern.strands.filter(({ piece }) => !pieces || pieces.includes(piece));
    return songOfPattern(song, { ...pattern, strands }, heardPasses(pattern));
  });
}

/** Where a candidate is tried: the loop of the song, or else the place that is selected. */
export function auditionRegion(state: Workbench): Range | undefined {
  const song = state.history?.song;
  if (!song) return undefined;
  if (state.songLoop) return state.songLoop;
  const laid = laidPlaces(song);
  const here = laid.find(({ place }) => place.id === state.placeId) ?? laid[0];
  return here && { from: here.start, to: here.end };
}

/** The loop that holds for what is heard; a pattern always loops. */
export function heardLoop(state: Workbench): Range | undefined {
  if (state.audition) {
    if (state.hear === 'song') return auditionRegion(state);
    const { pattern } = state.audition;
    return { from: 0, to: pattern.length * heardPasses(pattern) };
  }
  if (state.hear === 'song') return state.songLoop;
  const pattern = shownPattern(state);
  if (!pattern) return undefined;
  const { patternLoop } = state;
  if (patternLoop && patternLoop.from < pattern.length) {
    return { from: patternLoop.from, to: Math.min(patternLoop.to, pattern.length) };
  }
  return { from: 0, to: pattern.length * heardPasses(pattern) };
}

/** Keeps the player at what the workbench says. Called once by the shell. */
export function connectPlayer(): () => void {
  const sync = (state: Workbench, before?: Workbench) => {
    const song = heardSong(state);
    const at = song && boundaryOf(state, before, song);
    if (song) player().setSong(song, at);
    const loop = heardLoop(state);
    const was = before && heardLoop(before);
    if (!before || loop?.from !== was?.from || loop?.to !== was?.to || state.hear !== before.hear) {
      player().setLoop(loop);
    }
    if (state.click !== before?.click) player().setClick(state.click);
    if (before && state.songId !== before.songId) {
      if (before.playing) player().stop();
      player().locate(0);
    }
  };
  player().prepare();
  sync(useWorkbench.getState());
  let queued = false;
  let since = useWorkbench.getState();
  const unsubscribe = useWorkbench.subscribe((_, previous) => {
    if (queued) return;
    queued = true;
    since = previous;
    afterFrame(() => {
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
  const here = laidPlaces(song).findLast(({ start }) => start <= now);
  const beat = here ? beatTicks(here.section.meter) : 960;
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
    player().setSong(heardNow);
    player().setLoop(heardLoop(useWorkbench.getState()));
    player().locate(0);
  }
}

/** Computes the sounds of pieces that may be heard soon. */
export function prepareSounds(pieces: readonly PieceId[]): void {
  player().prepare(pieces);
}

/** Calls once the next frame is drawn: compiling a long song can wait for what the eye waits for. */
function afterFrame(run: () => void): void {
  // A page that is not shown has no frames.
  if (typeof document === 'undefined' || document.hidden) setTimeout(run);
  else requestAnimationFrame(() => setTimeout(run));
}

export async function play(from?: Ticks): Promise<void> {
  const state = useWorkbench.getState();
  const song = heardSong(state);
  if (!song || songTicks(song) === 0) {
    notify('There is nothing to play yet: write a beat in Shape, or put a pattern into the song.');
    return;
  }
  player().setSong(song);
  player().setLoop(heardLoop(state));
  const loop = heardLoop(state);
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
  if (useWorkbench.getState().playing) stop();
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
  void player().strike(piece, articulation, velocity);
}

/** Tick that is heard now, of what is heard. */
export function playhead(): Ticks {
  return made?.tick ?? 0;
}

/** How loud it is now, 0 to 1. */
export function peakNow(): number {
  return made?.peak ?? 0;
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
  if (next) player().setSong(next);
  player().setLoop(heardLoop(useWorkbench.getState()));
  player().locate(next && left[hear] < songTicks(next) ? left[hear] : 0);
}

export function toggleHear(): void {
  setHear(useWorkbench.getState().hear === 'song' ? 'pattern' : 'song');
}

export function toggleClick(): void {
  useWorkbench.setState((state) => {
    state.click = !state.click;
  });
}

export function toggleCountIn(): void {
  useWorkbench.setState((state) => {
    state.countIn = !state.countIn;
  });
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
  const from = Math.floor(Math.min(...ats) / bar) * bar;
  const last = Math.floor(Math.max(...ats) / bar) * bar + bar;
  const to = Math.min(last, from + MAX_LOOP_BARS * bar, pattern.length);
  setPatternLoop(from === 0 && to >= pattern.length ? undefined : { from, to });
}

/** The longest loop in a pattern: sixteen bars. */
export const MAX_LOOP_BARS = 16;

/** Loops some bars of the pattern; none loops all of it. */
export function setPatternLoop(patternLoop: Range | undefined): void {
  useWorkbench.setState({ patternLoop });
}
