/** A row of the database; without `row` it was deleted. */
export interface MirrorRow {
  table: string;
  key: string;
  row?: unknown;
}

/** A row as the head of a pack names it. */
interface Entry {
  table: string;
  key: string;
  /** Where it lies in the content, in bytes; absent where it was deleted. */
  at?: number;
  length?: number;
  /** A short sum of its bytes: a row with another one differs, and need not be read for that. */
  mark?: number;
}

/** The head of a pack: its rows and where they lie, before its content. */
export interface PackHead {
  form: 1;
  /** The version of the database that its rows are from. */
  version: number;
  /** Milliseconds since 1970. */
  made: number;
  entries: readonly Entry[];
}

const ENCODER = new TextEncoder();
const DECODER = new TextDecoder();
/** The sum over all that follows, in hexadecimal digits, and the length of the head in decimal ones. */
const SUM = 64;
const LENGTH = 10;
const START = SUM + LENGTH;

/** Arrays of numbers that rows hold, by name. */
const ARRAYS = { Float32Array, Uint8Array } as const;
const TYPED = '\u0000array';

/** A row as bytes: JSON, with its arrays of numbers behind it. Some things cannot be: a handle of a folder. */
export function rowBytes(row: unknown): Uint8Array {
  const arrays: Uint8Array[] = [];
  let size = 0;
  const text = JSON.stringify(row, (_, value: unknown) => {
    const kind = Object.entries(ARRAYS).find(([, one]) => value instanceof one)?.[0];
    if (kind === undefined) return value;
    const { buffer, byteOffset, byteLength } = value as Uint8Array;
    arrays.push(new Uint8Array(buffer, byteOffset, byteLength));
    size += byteLength;
    return { [TYPED]: [kind, size - byteLength, byteLength] };
  });
  const json = ENCODER.encode(text);
  return joined([ENCODER.encode(String(json.length).padStart(LENGTH, '0')), json, ...arrays]);
}

/** @throws where the bytes are no row */
export function rowOf(bytes: Uint8Array): unknown {
  const length = Number(DECODER.decode(bytes.subarray(0, LENGTH)));
  const arrays = bytes.slice(LENGTH + length);
  return JSON.parse(
    DECODER.decode(bytes.subarray(LENGTH, LENGTH + length)),
    (_, value: unknown) => {
      const typed = (value as Record<string, unknown> | null)?.[TYPED];
      if (!Array.isArray(typed)) return value;
      const [kind, at, size] = typed as [keyof typeof ARRAYS, number, number];
      return new ARRAYS[kind](arrays.slice(at, at + size).buffer);
    },
  );
}

/** A number that rows of other bytes hardly share (FNV-1a, 32 bits). */
export function markOf(bytes: Uint8Array): number {
  let mark = 0x811c9dc5;
  for (let i = 0; i < bytes.length; i++) mark = Math.imul(mark ^ bytes[i], 0x01000193);
  return mark >>> 0;
}

/** Rows as one file, under a sum of all it holds. */
export async function packOf(
  rows: readonly { table: string; key: string; bytes?: Uint8Array }[],
  about: Pick<PackHead, 'version' | 'made'>,
): Promise<Uint8Array> {
  let size = 0;
  const entries = rows.map(({ table, key, bytes }): Entry => {
    if (!bytes) return { table, key };
    size += bytes.length;
    return { table, key, at: size - bytes.length, length: bytes.length, mark: markOf(bytes) };
  });
  const head = ENCODER.encode(JSON.stringify({ form: 1, ...about, entries } satisfies PackHead));
  const rest = joined([
    ENCODER.encode(String(head.length).padStart(LENGTH, '0')),
    head,
    ...rows.flatMap(({ bytes }) => bytes ?? []),
  ]);
  return joined([ENCODER.encode(await sumOf(rest)), rest]);
}

/** How many bytes of a pack its head needs, read off its first `HEAD_STARTS` bytes. */
export const HEAD_STARTS = START;
export const headEnd = (start: Uint8Array): number =>
  START + Number(DECODER.decode(start.subarray(SUM, START)));

/** The head of a pack; undefined where it is none. The content behind it need not be there. */
export function headOfPack(bytes: Uint8Array): PackHead | undefined {
  try {
    const head = JSON.parse(DECODER.decode(bytes.subarray(START, headEnd(bytes)))) as PackHead;
    return head.form === 1 && Array.isArray(head.entries) ? head : undefined;
  } catch {
    return undefined;
  }
}

/** The rows of a pack; undefined where any byte of it is another one than was written. */
export async function rowsOfPack(bytes: Uint8Array): Promise<MirrorRow[] | undefined> {
  const head = headOfPack(bytes);
  if (!head || (await sumOf(bytes.subarray(SUM))) !== DECODER.decode(bytes.subarray(0, SUM))) {
    return undefined;
  }
  const from = headEnd(bytes);
  try {
    return head.entries.map(({ table, key, at, length = 0 }) =>
      at === undefined
        ? { table, key }
        : { table, key, row: rowOf(bytes.subarray(from + at, from + at + length)) },
    );
  } catch {
    return undefined;
  }
}

async function sumOf(bytes: Uint8Array): Promise<string> {
  const sum = await crypto.subtle.digest('SHA-256', bytes as BufferSource);
  return [...new Uint8Array(sum)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
