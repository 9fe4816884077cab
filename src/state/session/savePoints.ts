import type { Song } from '@/core';
import type { PieceId } from '@/core/model';
import { compareSongs, laidPlaces, type Compared, type Range } from '@/core/weave';
import { create } from 'zustand';
import { whyNot } from '@/storage/failures';
import {
  keepPoint,
  listPoints,
  putBackPoint,
  remarkPoint,
  removePoint,
  type SavePoint,
} from '@/storage/savePoints';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { openSongNow, useWorkbench } from '../store';
import { play, setHear } from '../transport/transport';
import { edit, editOrSay, songBefore } from './edit';
import { storedOrUnsaved } from './session';

/** What a song is compared with: an earlier state of it, or another version of somebody's. */
export type Whose = 'then' | 'theirs';

/** The save points of the open song, and the song that is compared with it. */
interface Points {
  song?: string;
  points: readonly SavePoint[];
  /** What the open song is compared with, and what that is called. */
  other?: { name: string; song: Song; whose: Whose };
}

export const usePoints = create<Points>(() => ({ points: [] }));

/** Reads the save points of the open song. */
export async function readPoints(): Promise<void> {
  const { songId } = useWorkbench.getState();
  if (!songId) return;
  try {
    usePoints.setState({ song: songId, points: await listPoints(songId) });
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

export function openPoints(): void {
  openDialog('save points');
  void readPoints();
}

let lastMade = 0;
let worked = 0;
let lastEdit = 0;

async function keep(
  name: string,
  why: SavePoint['why'],
  note = '',
): Promise<SavePoint | undefined> {
  const song = songBefore();
  if (!song || useWorkbench.getState().readOnly) return undefined;
  try {
    const made = await keepPoint(song, { name, why, note });
    lastMade = made.made;
    worked = 0;
    if (useWorkbench.getState().dialog === 'save points') await readPoints();
    return made;
  } catch (error) {
    notify(whyNot(error), 'error');
    return undefined;
  }
}

/** The number of the next save point: one more than any has, however many were taken away. */
async function nextNumber(): Promise<number> {
  const { songId } = useWorkbench.getState();
  const points = songId ? await listPoints(songId).catch(() => []) : [];
  return numberAfter(points.map(({ name }) => name));
}

/** The number after the highest that any of these names has. */
export function numberAfter(names: readonly string[]): number {
  const numbers = names.map((name) => Number(/^Save point (\d+)$/.exec(name)?.[1] ?? 0));
  return Math.max(0, ...numbers) + 1;
}

/** Makes a save point by hand. */
export async function makePoint(name = ''): Promise<void> {
  const made = await keep(name || `Save point ${await nextNumber()}`, 'by hand');
  if (made) {
    notify(`“${made.name}” keeps the song as it is now.`, 'info', {
      label: 'show',
      run: openPoints,
    });
  }
}

/** Keeps the song as it is before something large is done to it. */
export async function keepBefore(what: string): Promise<void> {
  await keep(`Before: ${what}`, 'before something large');
}

/** Gaps longer than this are no work, in ms. */
const BREAK = 5 * 60 * 1000;
const HOUR = 60 * 60 * 1000;

// Once an hour of work a save point is made by itself.
useWorkbench.subscribe((state, before) => {
  if (state.edits === before.edits || state.status !== 'ready' || state.edits === 0) return;
  const now = Date.now();
  worked += Math.min(BREAK, Math.max(0, now - lastEdit));
  lastEdit = now;
  if (worked < HOUR || now - lastMade < HOUR) return;
  void keep('After an hour of work', 'an hour of work');
});

export async function remark(id: string, change: { name: string; note: string }): Promise<void> {
  await remarkPoint(id, change);
  await readPoints();
}

export async function remove(id: string): Promise<void> {
  const row = await removePoint(id);
  await readPoints();
  if (row) {
    notify(`“${row.name}” was removed.`, 'info', {
      label: 'undo',
      run: () => void putBackPoint(row).then(readPoints),
    });
  }
}

/** Lays another song, or another state of this one, beside the open one. */
export function compareWith(name: string, song: Song, whose: Whose): void {
  usePoints.setState({ other: { name, song, whose } });
  openDialog('compare');
}

/** Compares with another song of the list. */
export async function compareWithStored(id: string): Promise<void> {
  const read = await storedOrUnsaved(id);
  if ('problem' in read) return notify(read.problem, 'error');
  compareWith(read.song.name, read.song, 'theirs');
}

export function compared(): Compared | undefined {
  const { other } = usePoints.getState();
  return other && compareSongs(openSongNow(), other.song);
}

/** Brings back all of what is compared. What is there now is kept as a save point first. */
export async function bringBackAll(): Promise<void> {
  const { other } = usePoints.getState();
  if (!other) return;
  await keepBefore(`bring back “${other.name}”`);
  const command = { type: 'bring back', what: 'song', from: other.song } as const;
  if (edit(command, `bring back ${other.name}`)) notify(`The song is as in “${other.name}”.`);
}

/** Brings back one place, with its section; or only what one piece plays there. */
export function bringBackPlace(id: string, piece?: PieceId): void {
  const { other } = usePoints.getState();
  if (!other) return;
  const command = {
    type: 'bring back',
    what: 'place',
    from: other.song,
    id,
    ...(piece && { piece }),
  } as const;
  if (editOrSay(command, 'bring back a section')) notify(`It is as in “${other.name}”.`);
}

/** Brings back one pattern, or one strand of it. */
export function bringBackPattern(id: string, piece?: PieceId): void {
  const { other } = usePoints.getState();
  if (!other) return;
  const command = {
    type: 'bring back',
    what: 'pattern',
    from: other.song,
    id,
    ...(piece && { piece }),
  } as const;
  if (edit(command, 'bring back a pattern')) notify(`It is as in “${other.name}”.`);
}

/** Hears one place: of the open song, or of the one it is compared with. */
export function hearPlace(of: 'here' | 'there', id: string): void {
  const { other } = usePoints.getState();
  const song = of === 'here' ? openSongNow() : other?.song;
  const laid = song && laidPlaces(song).find(({ place }) => place.id === id);
  if (!song || !laid) return;
  const loop: Range = { from: laid.start, to: laid.end };
  setHear('song');
  useWorkbench.setState({ beside: of === 'there' ? { song, loop } : undefined, songLoop: loop });
  void play(loop.from);
}

/** Hears the open song again. */
export function leaveBeside(): void {
  if (useWorkbench.getState().beside) useWorkbench.setState({ beside: undefined });
}
