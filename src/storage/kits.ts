import { isKit, isStrip } from '@/core/model';
import { db, type KeptKit, type LoomDb, type Preset } from './db';
import { isNamed } from './rows';

export type { KeptKit, Preset } from './db';

const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);

/** The kits that were kept, by name. What another version left there that cannot be played is not listed. */
export async function keptKits(at: LoomDb = db()): Promise<KeptKit[]> {
  return (await at.kits.toArray()).filter((row) => isNamed(row) && isKit(row.kit)).sort(byName);
}

export async function keepKit(kept: KeptKit, at: LoomDb = db()): Promise<void> {
  await at.kits.put(kept);
}

export async function forgetKit(id: string, at: LoomDb = db()): Promise<void> {
  await at.kits.delete(id);
}

/** The strips that were kept, by name. */
export async function keptPresets(at: LoomDb = db()): Promise<Preset[]> {
  return (await at.presets.toArray())
    .filter((row) => isNamed(row) && isStrip(row.strip))
    .sort(byName);
}

export async function keepPreset(preset: Preset, at: LoomDb = db()): Promise<void> {
  await at.presets.put(preset);
}

export async function forgetPreset(id: string, at: LoomDb = db()): Promise<void> {
  await at.presets.delete(id);
}
