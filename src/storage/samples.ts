import type { SampleHash } from '@/core/model';
import type { Pcm } from '@/core/sound';
import { db, type LoomDb, type StoredSample } from './db';
import { isSample } from './rows';

export type { StoredSample } from './db';

/** Keeps a decoded sound file. One that is there already is not kept twice. */
export async function keepSample(sample: StoredSample, at: LoomDb = db()): Promise<void> {
  await at.samples.put(sample);
}

/** Which of these sound files are here. */
export async function samplesHere(
  hashes: readonly SampleHash[],
  at: LoomDb = db(),
): Promise<Set<SampleHash>> {
  if (hashes.length === 0) return new Set();
  const here = await at.samples
    .where('hash')
    .anyOf([...hashes])
    .primaryKeys();
  return new Set(here);
}

/** The sound files of these names as they are kept, as far as they are here. */
export async function storedSamples(
  hashes: readonly SampleHash[],
  at: LoomDb = db(),
): Promise<StoredSample[]> {
  if (hashes.length === 0) return [];
  return (await at.samples.bulkGet([...hashes])).filter(isSample);
}

/** The sound files of these names that are here. */
export async function readSamples(
  hashes: readonly SampleHash[],
  at: LoomDb = db(),
): Promise<Map<SampleHash, Pcm>> {
  if (hashes.length === 0) return new Map();
  const rows = await storedSamples(hashes, at);
  return new Map(rows.map(({ hash, left, right }) => [hash, { left, ...(right && { right }) }]));
}
