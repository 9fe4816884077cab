import { nanoid } from 'nanoid';
import { findStrand, type Command, type Pattern } from '@/core';
import { articulationOf, pieceOfNote, type PieceId } from '@/core/model';
import { landing, type StrandHit } from '@/core/pattern';
import { PPQ, toVelocity, type Velocity } from '@/core/time';
import { commitGesture, preview } from './edit';
import { notify, openSongNow, shownPattern, useWorkbench, type Pads } from './store';
import * as transport from './transport';

/** The keys of the pads, by where they are on the keyboard: two rows under the left hand and right. */
export const PAD_KEYS = [
  ...['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyH', 'KeyJ', 'KeyK'],
  ...['KeyZ', 'KeyX', 'KeyC', 'KeyV', 'KeyB', 'KeyN', 'KeyM', 'Comma'],
] as const;

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

export function turnRecordMode(): void {
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
  lastTick: number;
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
  pass = { taken: [], lastTick: -Infinity, timer: setInterval(watch, 40) };
  if (playing) return;
  useWorkbench.setState({ click: true, countIn: true });
  void transport.play();
}

function stopRecording(): void {
  if (pass) clearInterval(pass.timer);
  pass = undefined;
  commitGesture();
  setPads({ recording: false });
}

/** Ends a pass when the loop comes round, and recording when the transport stops. */
function watch(): void {
  if (!pass) return;
  const { playing, audio } = useWorkbench.getState();
  const tick = transport.playhead();
  if (tick < pass.lastTick - PPQ / 4) endPass();
  pass.lastTick = tick;
  if (!playing && audio === 'running' && tick > 0 && pass.taken.length > 0) stopRecording();
}

function endPass(): void {
  commitGesture();
  if (pass) pass.taken = [];
}

/** Ticks a millisecond at the song's first tempo. */
const ticksPerMs = () => (openSongNow().tempo[0].bpm * PPQ) / 60_000;

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
  const { at, push } = landing(shown, piece, tick, pads.quantize);
  const way = articulationOf(piece, articulation).id;
  const hit = { id: nanoid(8), at, push, velocity: struck, articulation: way };
  // What lies ahead is written once the playhead is past it: it was heard already.
  const ahead = at + push - (transport.playhead() % shown.length);
  const wait = ahead > 0 && ahead < shown.step ? ahead / ticksPerMs() + 40 : 0;
  const taken = { piece, hit };
  if (wait > 0) setTimeout(() => take(taken), wait);
  else take(taken);
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
  const { gesture, patternLoop } = useWorkbench.getState();
  const before = gesture?.before.song.patterns.find(({ id }) => id === shown.id) ?? shown;
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
  if (typeof navigator === 'undefined' || !navigator.requestMIDIAccess) {
    notify(
      'This browser cannot listen to MIDI controllers. The pads on screen and the keys work the same way.',
      'error',
    );
    return;
  }
  try {
    const access = await navigator.requestMIDIAccess();
    const listen = () => {
      const inputs = [...access.inputs.values()];
      for (const input of inputs) input.onmidimessage = onMidi;
      const names = inputs.map((input) => input.name ?? 'a controller');
      setPads({ controller: names.length > 0 ? names.join(', ') : undefined });
      return inputs.length;
    };
    access.onstatechange = listen;
    if (listen() === 0) {
      notify('No controller is connected. Plug one in: it will be heard as soon as it is there.');
    }
  } catch {
    notify(
      'The browser was not allowed to listen to MIDI controllers. Allow it for this page and press again.',
      'error',
    );
  }
}

/** Note on, status 0x90 to 0x9f; a velocity of 0 is a note off. */
function onMidi({ data, timeStamp }: MIDIMessageEvent): void {
  if (!data || (data[0] & 0xf0) !== 0x90 || !data[2]) return;
  const { piece, articulation } = pieceOfNote(data[1] & 0x7f);
  strikePiece(piece.id, articulation.id, data[2], timeStamp || performance.now());
}
