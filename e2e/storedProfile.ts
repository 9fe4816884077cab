import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { makeProfile } from './browser';

/** Makes the profile that every end-to-end test works on a copy of, once a run. */
export default async function storeProfile(): Promise<void> {
  const profile = join(process.cwd(), '.tmp/profile');
  rmSync(profile, { recursive: true, force: true });
  mkdirSync(profile, { recursive: true });
  await makeProfile(profile);
  process.env.VERSE_LOOM_PROFILE = profile;
}
