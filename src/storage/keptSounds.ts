import { filesOf, type SoundDesign } from '@/core/model';
import type { KitSound } from '@/core/sound';
import type { Hertz } from '@/core/time';

/**
 * Computed sounds, kept from one visit to the next: a song that is opened again plays at once. They can be
 * computed anew at any time, and so they are kept beside the database, as the browser has room.
 */

/** Another version of the core may compute other sounds: each has a cache of its own. */
const PREFIX = 'sounds ';
const CACHE = PREFIX + (process.env.SOUNDS ?? '');

/** About 250 MB. What was kept first goes first. */
const MOST_KEPT = 120;

let opened: Promise<Cache> | undefined;

/** @returns undefined where nothing is kept: in tests, while developing, and on pages that came by plain http */
function cache(): Promise<Cache> | undefined {
  if (typeof caches === 'undefined' || process.env.NODE_ENV !== 'production') return undefined;
  return (opened ??= open());
}

async function open(): Promise<Cache> {
  const names = await caches.keys();
  const old = names.filter((name) => name.startsWith(PREFIX) && name !== CACHE);
  await Promise.all(old.map((name) => caches.delete(name)));
  return caches.open(CACHE);
}

/** A cache keeps answers to addresses: this one is asked of nobody. */
const addressOf = (design: SoundDesign, rate: Hertz) =>
  `/computed/${rate}?${encodeURIComponent(JSON.stringify(design))}`;

/** A sound as it was computed before, if it is kept. */
export async function keptSound(design: SoundDesign, rate: Hertz): Promise<KitSound | undefined> {
  try {
    const found = await (await cache())?.match(addressOf(design, rate));
    return found && unpackSound(await found.arrayBuffer());
  } catch {
    return undefined;
  }
}

/** Keeps a sound that was computed. Where there is no room for it, it is computed again the next time. */
export async function keepSound(design: SoundDesign, rate: Hertz, sound: KitSound): Promise<void> {
  // A sound of files changes with them, and is made quickly.
  if (filesOf(design).length > 0) return;
  try {
    const kept = await cache();
    if (!kept) return;
    await kept.put(addressOf(design, rate), new Response(packSound(sound)));
    const all = await kept.keys();
    const over = all.slice(0, Math.max(0, all.length - MOST_KEPT));
    await Promise.all(over.map((one) => kept.delete(one)));
  } catch {
    // The browser has no room.
  }
}

/** Where samples stand among all samples of a sound: the first, and how many. */
interface Place {
  samples: [from: number, length: number];
}

/** A sound as bytes: the length of what follows, all but its samples as JSON, and the samples. */
export function packSound(sound: KitSound): Blob {
  const parts: Float32Array[] = [];
  const starts = new Map<ArrayBufferLike, number>();
  let length = 0;
  // Strokes of several velocities may share their samples.
  const startOf = ({ buffer }: Float32Array) => {
    const known = starts.get(buffer);
    if (known !== undefined) return known;
    const start = length;
    starts.set(buffer, start);
    parts.push(new Float32Array(buffer));
    length += buffer.byteLength / 4;
    return start;
  };
  const text = JSON.stringify(sound, (_, value: unknown) => {
    if (!(value instanceof Float32Array)) return value;
    return { samples: [startOf(value) + value.byteOffset / 4, value.length] } satisfies Place;
  });
  const head = new TextEncoder().encode(text);
  const padding = new Uint8Array((4 - (head.length % 4)) % 4);
  return new Blob([
    Uint32Array.of(head.length + padding.length),
    head,
    padding.fill(0x20),
    ...(parts as Float32Array<ArrayBuffer>[]),
  ]);
}

/** @returns undefined for bytes that are not a whole sound */
export function unpackSound(bytes: ArrayBuffer): KitSound | undefined {
  try {
    const [size] = new Uint32Array(bytes, 0, 1);
    const text = new TextDecoder().decode(new Uint8Array(bytes, 4, size));
    return JSON.parse(text, (_, value: KitSound | Place | null) =>
      value && typeof value === 'object' && 'samples' in value
        ? new Float32Array(bytes, 4 + size + 4 * value.samples[0], value.samples[1])
        : value,
    ) as KitSound;
  } catch {
    return undefined;
  }
}
