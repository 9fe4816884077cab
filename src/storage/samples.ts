import type { SampleHash } from '@/core/model';
import type { Pcm } from '@/core/sound';
import { db, type LoomDb, type StoredSample } from './db';

export type { StoredSample } from './db';

/** Keeps a decoded sound file. One that is there already is not kept twice. */
export async function keepSample(sample: StoredSample, at: LoomDb = db()): Promise<void> {
  await at.samples.put(sample);
}

/** The sound files of these names that are here. */
export async function readSamples(
  hashes: readonly SampleHash[],
  at: LoomDb = db(),
): Promise<Map<SampleHash, Pcm>> {
  if (hashes.length === 0) return new Map();
  const rows = await at.samples.bulkGet([...hashes]);
  return new Map(
    rows.flatMap((row) =>
      row ? [[row.hash, { left: row.left, ...(row.right && { right: row.right }) }]] : [],
    ),
  );
}
