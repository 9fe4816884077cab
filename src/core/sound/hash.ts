import type { SampleHash } from '../model';
import type { Pcm } from './designed';

/**
 * What a sound is known by: SHA-256 of its samples, the left side and then the right, in hexadecimal. Two
 * files that sound the same are one, whatever format they are in.
 */
export async function hashOfSound({ left, right }: Pcm): Promise<SampleHash> {
  const both = new Float32Array(left.length + (right?.length ?? 0));
  both.set(left);
  if (right) both.set(right, left.length);
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', both));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}
