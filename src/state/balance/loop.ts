import { nanoid } from 'nanoid';
import { decodeSound, SOUND_FILES } from '@/audio/decode';
import { SAMPLE_RATE } from '@/audio/player';
import { MAX_BPM, MIN_BPM } from '@/core/time';
import { guessLength, slicesAt, tempoOfLoop, type SliceKind } from '@/core/loops';
import { outlineOf } from '@/core/sound';
import { keepSample } from '@/storage/samples';
import { onsetsAside } from '@/workers';
import { closeDialog, openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import type { LoopOnBench } from './slice';
import { goToStage } from '../routes';
import { editOrSay } from '../session/edit';
import { showPattern } from '../shape/shape';
import { useWorkbench } from '../store';
import { hearSound } from '../transport/transport';

/** What the first look for strokes uses. */
const FIRST_THRESHOLD = 0.2;

/** Lets the user choose a recorded loop to cut. */
export async function chooseLoop(): Promise<void> {
  const file = await platform.chooseOne(SOUND_FILES);
  if (file) await sliceFile(file);
}

/** Opens a recorded loop: its strokes are found, its bars and tempo guessed. */
export async function sliceFile(file: File): Promise<void> {
  if (!useWorkbench.getState().history) {
    return notify('Open a song first: a loop becomes a pattern of it.');
  }
  const decoded = await decodeSound(await file.arrayBuffer(), file.name, SAMPLE_RATE);
  if (typeof decoded === 'string') return notify(decoded, 'error');
  if (decoded.remark) notify(decoded.remark);
  const { left } = decoded;
  const seconds = left.length / SAMPLE_RATE;
  if (seconds > LONGEST) {
    return notify(
      `“${file.name}” is longer than two minutes: cut a few bars out of it first.`,
      'error',
    );
  }
  useWorkbench.setState({
    slicing: {
      name: file.name.replace(/\.[^.]+$/, ''),
      file: decoded,
      outline: outlineOf(left, 1200),
      seconds,
      threshold: FIRST_THRESHOLD,
      finding: true,
      marks: [],
      ...guessLength([], left.length, SAMPLE_RATE),
      slices: [],
      kinds: new Map(),
    },
  });
  openDialog('slice');
  await find(FIRST_THRESHOLD, true);
}

/** The longest loop, in seconds. */
const LONGEST = 120;

/** Looks for strokes anew. @param guess bars and tempo too */
async function find(threshold: number, guess = false): Promise<void> {
  const { slicing } = useWorkbench.getState();
  if (!slicing) return;
  change({ threshold, finding: true });
  const { left } = slicing.file;
  const marks = await onsetsAside(left, SAMPLE_RATE, threshold);
  const now = useWorkbench.getState().slicing;
  // Meanwhile another threshold may have been set, or the loop put away.
  if (!now || now.file !== slicing.file || now.threshold !== threshold) return;
  change({
    finding: false,
    marks,
    ...(guess && guessLength(marks, left.length, SAMPLE_RATE)),
  });
}

/** Changes what is known of the loop; its slices follow. */
function change(next: Partial<LoopOnBench>): void {
  const { slicing } = useWorkbench.getState();
  if (!slicing) return;
  const after = { ...slicing, ...next };
  const { file, marks, bpm, kinds } = after;
  const cut = marks !== slicing.marks || bpm !== slicing.bpm || kinds !== slicing.kinds;
  const slices = cut
    ? slicesAt(file.left, marks, bpm).map((slice) => ({
        ...slice,
        kind: kinds.get(slice.from) ?? slice.kind,
      }))
    : slicing.slices;
  useWorkbench.setState({ slicing: { ...after, slices } });
}

export function setThreshold(threshold: number): void {
  void find(threshold);
}

/** Moves the beginning of a slice, in seconds. */
export function moveMark(index: number, seconds: number): void {
  const { slicing } = useWorkbench.getState();
  const from = slicing?.slices[index]?.from;
  if (from === undefined) return;
  const to = Math.max(0, Math.round(seconds * SAMPLE_RATE));
  const others = slicing!.slices.map((slice) => slice.from).filter((at) => at !== from);
  change({ marks: [...others, to].sort((a, b) => a - b) });
}

/** Sets one more mark. */
export function addMark(seconds: number): void {
  const { slicing } = useWorkbench.getState();
  if (!slicing) return;
  const at = Math.round(seconds * SAMPLE_RATE);
  change({ marks: [...slicing.slices.map(({ from }) => from), at].sort((a, b) => a - b) });
}

/** Takes a mark away: its slice belongs to the one before. */
export function removeMark(index: number): void {
  const { slicing } = useWorkbench.getState();
  if (!slicing) return;
  change({ marks: slicing.slices.map(({ from }) => from).filter((_, n) => n !== index) });
}

/** The loop is so many bars: its tempo follows. */
export function setBars(bars: number): void {
  const { slicing } = useWorkbench.getState();
  if (!slicing) return;
  change({ bars, bpm: tempoOfLoop(slicing.file.left.length, SAMPLE_RATE, bars) });
}

export function setLoopTempo(bpm: number): void {
  change({ bpm: Math.max(MIN_BPM, Math.min(MAX_BPM, bpm)) });
}

export function setKind(index: number, kind: SliceKind): void {
  const { slicing } = useWorkbench.getState();
  const from = slicing?.slices[index]?.from;
  if (from !== undefined) change({ kinds: new Map(slicing!.kinds).set(from, kind) });
}

export function nameLoop(name: string): void {
  change({ name });
}

/** Sounds one slice as it was recorded. */
export function hearSlice(index: number): void {
  const { slicing } = useWorkbench.getState();
  const slice = slicing?.slices[index];
  if (!slice) return;
  const { left, right } = slicing.file;
  hearSound({
    left: left.slice(slice.from, slice.to),
    ...(right && { right: right.slice(slice.from, slice.to) }),
  });
}

/**
 * Takes the loop into the song as a pattern.
 * @param transcribed it is played by the song's kit; otherwise by its own slices
 */
export async function takeSliced(transcribed: boolean): Promise<void> {
  const { slicing, songId } = useWorkbench.getState();
  if (!slicing) return;
  const { name, file, bars, bpm, slices } = slicing;
  const { hash, left, right } = file;
  if (!transcribed) {
    try {
      await keepSample({ hash, name, left, ...(right && { right }) });
    } catch {
      return notify(
        `“${name}” could not be kept: this browser’s storage is full or closed. Free some room in the list of songs, and try again; or take it as a transcription, which needs no room.`,
        'error',
      );
    }
    if (useWorkbench.getState().songId !== songId) return;
  }
  const id = nanoid(8);
  const done = editOrSay(
    { type: 'slice loop', id, name, hash, bars, bpm, slices, transcribed },
    'loop',
  );
  if (!done) return;
  discardLoop();
  showPattern(id);
  goToStage('shape');
  notify(
    transcribed
      ? `“${name}” is a pattern now, played by the kit of this song.`
      : `“${name}” is a pattern now, played by its own slices; it was recorded at ${Math.round(bpm * 10) / 10} bpm.`,
  );
}

/** Has the song played at the tempo of the loop. */
export function takeItsTempo(): void {
  const { slicing } = useWorkbench.getState();
  if (slicing) editOrSay({ type: 'set tempo', bpm: slicing.bpm }, 'tempo');
}

export function discardLoop(): void {
  closeDialog();
  useWorkbench.setState({ slicing: undefined });
}
