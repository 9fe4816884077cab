import { nanoid } from 'nanoid';
import { listenToControllers, type ControllerAnswer } from '@/audio/controllers';
import type { Command, Pattern } from '@/core';
import { articulationOf, findStrand, strokeOfNote, type PieceId } from '@/core/model';
import { landing, type StrandHit } from '@/core/pattern';
import { PPQ, pushOfMs, toVelocity, type Velocity } from '@/core/time';
import { notify } from '../notices/notices';
import { learnNote } from '../balance/numbers';
import { performNote, performNoteEnd } from '../weave/performing';
import { commitGesture, patternBefore, preview } from '../session/edit';
import { openSongNow, shownPattern, useWorkbench, type Pads } from '../store';
import * as transport from '../transport/transport';

/** The keys of the pads, by where they are on the keyboard: two rows under the left hand and right. */
export const PAD_KEYS = [
  ...['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyH', 'KeyJ', 'KeyK'],
  ...['KeyZ', 'KeyX', 'KeyC', 'KeyV', 'KeyB', 'KeyN', 'KeyM', 'Comma'],
] as const;

/** Whether a key plays a pad while pads are shown. @param key as acts have it: `a` */
export const isPadKey = (key: string): boolean =>
  (PAD_KEYS as readonly string[]).includes(`Key${key.toUpperCase()}`);

/** How hard a key strikes: plain, with Shift, and with Alt. */
export const KEY_STRENGTHS = { usual: 92, hard: 120, ghost: 34 } as const;

function setPads(change: Partial<Pads>): void {
  useWorkbench.setState(({ pads }) => ({ pads: { ...pads, ...change } }));
}

export function togglePads(): void {
  const { pads } = useWorkbench.getState();
  if (pads.open) stopRecording();
  setPads({ open: !pads.open });
}

export const setQuantizeIn = (quantize: number) => setPads({ quantize });
export const setLatency = (latency: number) => setPads({ latency });
export const setRecordMode = (mode: Pads['mode']) => setPads({ mode });

export function toggleRecordMode(): void {
  const { mode } = useWorkbench.getState().pads;
  setRecordMode(mode === 'overdub' ? 'replace' : 'overdub');
}

/** Gives a pad another sound. */
export function assignPad(index: number, piece: PieceId, articulation: string): void {
  const { sounds } = useWorkbench.getState().pads;
  setPads({ sounds: sounds.map((s, i) => (i === index ? { piece, articulation } : s)) });
}

/** What is played in the pass that runs: one step of undo. */
interface Pass {
  taken: StrandHit[];
  /** Hits struck ahead of their step: written once the playhead has passed it. */
  ahead: Map<ReturnType<typeof setTimeout>, StrandHit>;
  lastTick: number;
  /** Whether the transport has run since it was asked to: when it stops then, recording ends. */
  ran: boolean;
  /** Click and count-in as they were before recording switched them on. */
  counted?: { click: boolean; countIn: boolean };
  timer: ReturnType<typeof setInterval>;
}
let pass: Pass | undefined;

export function toggleRecording(): void {
  if (useWorkbench.getState().pads.recording) stopRecording();
  else startRecording();
}

/** Starts to write down what is played, into the loop that runs; with a count-in when none does. */
function startRecording(): void {
  const { playing, readOnly } = useWorkbench.getState();
  if (readOnly) {
    notify('This song is open in another tab: nothing can be recorded here.', 'error');
    return;
  }
  commitGesture();
  transport.setHear('pattern');
  setPads({ recording: true, open: true });
  pass = {
    taken: [],
    ahead: new Map(),
    lastTick: -Infinity,
    ran: playing,
    timer: setInterval(watch, 40),
  };
  if (playing) return;
  const { click, countIn } = useWorkbench.getState();
  pass.counted = { click, countIn };
  useWorkbench.setState({ click: true, countIn: true });
  void transport.play();
}

function stopRecording(): void {
  if (pass) {
    clearInterval(pass.timer);
    // Hits that still wait for their step are written now.
    for (const [timer, taken] of pass.ahead) {
      clearTimeout(timer);
      take(taken);
    }
  }
  // Click and count-in go back to what they were; what was switched off meanwhile stays off.
  const { click, countIn } = useWorkbench.getState();
  if (pass?.counted) {
    useWorkbench.setState({
      click: click && pass.counted.click,
      countIn: countIn && pass.counted.countIn,
    });
  }
  pass = undefined;
  commitGesture();
  setPads({ recording: false });
}

/** Ends a pass when the loop comes round, and recording when the transport stops. */
function watch(): void {
  if (!pass) return;
  const { playing } = useWorkbench.getState();
  if (pass.ran && !playing) return stopRecording();
  pass.ran ||= playing;
  const tick = transport.playhead();
  if (tick < pass.lastTick - PPQ / 4) endPass();
  pass.lastTick = tick;
}

function endPass(): void {
  commitGesture();
  if (pass) pass.taken = [];
}

/** Ticks a millisecond at the tempo of the song: that of a pattern heard alone. */
const ticksPerMs = () => pushOfMs(1, openSongNow().bpm);

/**
 * Strikes a pad.
 * @param when the time of the event, as the page counts it
 */
export function strikePad(index: number, velocity: Velocity, when = performance.now()): void {
  const sound = useWorkbench.getState().pads.sounds[index];
  if (sound) strikePiece(sound.piece, sound.articulation, velocity, when);
}

function strikePiece(piece: PieceId, articulation: string, velocity: Velocity, when: number): void {
  const struck = toVelocity(velocity);
  transport.strike(piece, articulation, struck);
  const { pads, playing } = useWorkbench.getState();
  const shown = shownPattern(useWorkbench.getState());
  if (!pads.recording || !pass || !playing || !shown) return;
  const late = performance.now() - when + pads.latency;
  const tick = transport.playhead() - late * ticksPerMs();
  // In the count-in only what belongs to the first step is meant.
  if (tick < -shown.step / 2) return;
  const { patternLoop } = useWorkbench.getState();
  const { at, push } = landing(shown, piece, tick, pads.quantize, patternLoop);
  const way = articulationOf(piece, articulation, openSongNow().kit).id;
  const hit = { id: nanoid(8), at, push, velocity: struck, articulation: way };
  // What lies ahead is written once the playhead is past it: it was heard already.
  const ahead = at + push - (transport.playhead() % shown.length);
  const wait = ahead > 0 && ahead < shown.step ? ahead / ticksPerMs() + 40 : 0;
  const taken = { piece, hit };
  if (wait <= 0) return take(taken);
  const { ahead: waiting } = pass;
  const timer = setTimeout(() => {
    waiting.delete(timer);
    take(taken);
  }, wait);
  waiting.set(timer, taken);
}

function take(taken: StrandHit): void {
  const shown = shownPattern(useWorkbench.getState());
  if (!pass || !shown) return;
  if (!useWorkbench.getState().gesture) pass.taken = [];
  pass.taken.push(taken);
  const { mode } = useWorkbench.getState().pads;
  const place: Command = { type: 'place hits', pattern: shown.id, hits: pass.taken };
  preview(mode === 'replace' ? [...cleared(shown), place] : [place], 'record a pass');
}

/** Takes out what the rows that were played in this pass had in the loop before it. */
function cleared(shown: Pattern): Command[] {
  const { patternLoop } = useWorkbench.getState();
  const before = patternBefore() ?? shown;
  const { from, to } = patternLoop ?? { from: 0, to: shown.length };
  const pieces = new Set(pass?.taken.map(({ piece }) => piece));
  const ids = [...pieces].flatMap((piece) =>
    (findStrand(before, piece)?.hits ?? [])
      .filter((hit) => hit.at >= from && hit.at < to)
      .map((hit) => hit.id),
  );
  return [{ type: 'remove hits', pattern: shown.id, ids }];
}

/** Listens to MIDI controllers, if the browser can and may. */
export async function connectController(): Promise<void> {
  const answer = await listenToControllers({
    onStrike(note, velocity, when) {
      if (learnNote(note) || performNote(note)) return;
      const { noteMap, kit } = openSongNow();
      const { piece, articulation } = strokeOfNote(note, noteMap, kit);
      strikePiece(piece, articulation, velocity, when);
    },
    onRelease: performNoteEnd,
    onNames: (names) => setPads({ controller: names.length > 0 ? names.join(', ') : undefined }),
  });
  const says = SAID[answer];
  if (says) notify(says, answer === 'none' ? 'info' : 'error');
}

const SAID: Readonly<Record<ControllerAnswer, string | undefined>> = {
  listening: undefined,
  none: 'No controller is connected. Plug one in: it will be heard as soon as it is there.',
  unable:
    'This browser cannot listen to MIDI controllers. The pads on screen and the keys work the same way.',
  refused:
    'The browser was not allowed to listen to MIDI controllers. Allow it for this page and press again.',
};
