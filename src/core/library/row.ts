import type { Groove } from './groove';

/** A row as text that can be sent: its bytes are in base 64. */
export function rowSent({ print, heavy, ...row }: Groove): Record<string, unknown> {
  return { ...row, print: base64(print), ...(heavy && { heavy: base64(bytesOf(heavy)) }) };
}

/** A row as it was sent, or as backups before had it (lists of numbers). It may still be none. */
export function rowReceived(value: unknown): Record<string, unknown> {
  const row = { ...(value as Record<string, unknown> | null) };
  const heavy = row.heavy === undefined ? undefined : received(row.heavy);
  return {
    ...row,
    print: received(row.print),
    ...(row.heavy !== undefined && { heavy: heavy && numbersOf(heavy) }),
  };
}

function received(value: unknown): Uint8Array | undefined {
  if (Array.isArray(value)) return Uint8Array.from(value as number[]);
  if (typeof value !== 'string') return undefined;
  try {
    return Uint8Array.from(atob(value), (letter) => letter.charCodeAt(0));
  } catch {
    return undefined;
  }
}

const base64 = (bytes: Uint8Array) =>
  btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''));

/** Two bytes a number, the low one first, on every machine. */
const bytesOf = (numbers: Uint16Array) =>
  Uint8Array.from({ length: numbers.length * 2 }, (_, i) => numbers[i >> 1] >> (i % 2 ? 8 : 0));

const numbersOf = (bytes: Uint8Array) =>
  Uint16Array.from({ length: bytes.length >> 1 }, (_, i) => bytes[2 * i] | (bytes[2 * i + 1] << 8));
