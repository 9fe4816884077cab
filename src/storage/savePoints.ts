import type { Song } from '@/core';
import { nanoid } from 'nanoid';
import { db, type LoomDb, type SavePoint } from './db';
import { soundPoint } from './rows';
import { readSong } from './songRecord';

export type { SavePoint } from './db';

/** So many that were made by themselves are kept of a song; the oldest go first. */
const MOST_OF_ITSELF = 30;

/** Keeps a whole copy of a song. */
export async function keepPoint(
  song: Song,
  point: Pick<SavePoint, 'name' | 'why' | 'note'>,
  at: LoomDb = db(),
): Promise<SavePoint> {
  const row: SavePoint = { ...point, id: nanoid(10), song: song.id, made: Date.now(), body: song };
  await at.transaction('rw', at.savePoints, async () => {
    await at.savePoints.put(row);
    if (point.why === 'by hand') return;
    const own = (await at.savePoints.where('song').equals(song.id).toArray())
      .filter(({ why }) => why !== 'by hand')
      .sort((a, b) => b.made - a.made);
    await at.savePoints.bulkDelete(own.slice(MOST_OF_ITSELF).map(({ id }) => id));
  });
  return row;
}

/** The save points of a song, the newest first; what cannot be opened any more is left out. */
export async function listPoints(song: string, at: LoomDb = db()): Promise<SavePoint[]> {
  const rows = await at.savePoints.where('song').equals(song).toArray();
  return rows
    .flatMap((row) => {
      const point = soundPoint(row);
      const read = readSong(row.body);
      return !point || 'problem' in read ? [] : [{ ...point, body: read.song }];
    })
    .sort((a, b) => b.made - a.made);
}

/** Names a save point, or notes something about it. */
export async function remarkPoint(
  id: string,
  change: Pick<SavePoint, 'name' | 'note'>,
  at: LoomDb = db(),
): Promise<void> {
  await at.savePoints.update(id, change);
}

/** @returns the save point that was removed, to be put back */
export async function removePoint(id: string, at: LoomDb = db()): Promise<SavePoint | undefined> {
  const row = await at.savePoints.get(id);
  await at.savePoints.delete(id);
  return row;
}

export async function putBackPoint(row: SavePoint, at: LoomDb = db()): Promise<void> {
  await at.savePoints.put(row);
}

/** Takes save points that came in a file, as those of a song of this browser. */
export async function takePoints(
  song: string,
  points: readonly SavePoint[],
  at: LoomDb = db(),
): Promise<void> {
  await at.savePoints.bulkPut(
    points.map((point) => ({ ...point, id: nanoid(10), song, body: { ...point.body, id: song } })),
  );
}
