/** The tables of a SoundFont, with the size of a row in bytes. The last row of each ends the one before it. */
const ROWS = {
  phdr: 38,
  pbag: 4,
  pmod: 10,
  pgen: 4,
  inst: 22,
  ibag: 4,
  imod: 10,
  igen: 4,
  shdr: 46,
} as const;
type TableId = keyof typeof ROWS;

/** Which row of another table a row of one leads to, and at which byte of it that stands. */
const LEADS: readonly (readonly [from: TableId, place: number, to: TableId])[] = [
  ['phdr', 24, 'pbag'],
  ['pbag', 0, 'pgen'],
  ['pbag', 2, 'pmod'],
  ['inst', 20, 'ibag'],
  ['ibag', 0, 'igen'],
  ['ibag', 2, 'imod'],
];

/** Samples that several rows of `shdr` share are read once a row: so often at most, in the mean. */
const SHARED = 8;

/** A part of a file: what it is, and where its content lies. */
interface Chunk {
  id: string;
  from: number;
  to: number;
}

/**
 * Whether a file is a SoundFont that can be read in a time and in memory that its size bounds: three lists one after
 * the other, each table once and within the file, and each row leading on to where the one before it led or further.
 * A made-up file could otherwise state tables of gigabytes, have every row lead through all of the next table, or
 * have every sample be the whole of the file.
 * Source: SoundFont Technical Specification 2.04, 2006, sections 4 to 7.
 */
export function isInOrder(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (bytes.length < 12 || word(0) !== 'RIFF' || word(8) !== 'sfbk') return false;
  const lists = chunksOf(12, bytes.length);
  if (!lists || lists.length !== 3 || lists.some(({ id }) => id !== 'LIST')) return false;
  const [info, data, tables] = lists.map(({ from, to }) => chunksOf(from + 4, to));
  const kinds = lists.map(({ from }) => word(from));
  if (kinds.join() !== 'INFO,sdta,pdta' || !info || !data || !tables) return false;
  if ([...info, ...data, ...tables].some(({ id }) => id === 'LIST' || id === 'RIFF')) return false;
  const found = new Map(tables.map((table) => [table.id, table]));
  const ids = Object.keys(ROWS) as TableId[];
  if (tables.length !== ids.length || found.size !== ids.length) return false;
  return (
    ids.every((id) => found.has(id) && sizeOf(found.get(id)!) % ROWS[id] === 0) &&
    LEADS.every(([from, place, to]) => leadsOn(from, place, to)) &&
    samplesAreBounded(data[0])
  );

  /** The parts one after another between two places; undefined where one goes beyond the end. */
  function chunksOf(from: number, end: number): Chunk[] | undefined {
    const chunks: Chunk[] = [];
    for (let at = from; at + 8 <= end;) {
      const to = at + 8 + view.getUint32(at + 4, true);
      if (to > end) return undefined;
      chunks.push({ id: word(at), from: at + 8, to });
      at = to + (to % 2);
    }
    return chunks;
  }

  function leadsOn(from: TableId, place: number, to: TableId): boolean {
    const rows = sizeOf(found.get(to)!) / ROWS[to];
    const { from: start, to: end } = found.get(from)!;
    for (let at = start, last = 0; at < end; at += ROWS[from]) {
      const next = view.getUint16(at + place, true);
      if (next < last || next > rows) return false;
      last = next;
    }
    return true;
  }

  function samplesAreBounded(data: Chunk | undefined): boolean {
    const { from, to } = found.get('shdr')!;
    const all = data ? sizeOf(data) / 2 : 0;
    let sum = 0;
    for (let at = from; at < to; at += ROWS.shdr) {
      const start = Math.min(all, view.getUint32(at + 20, true));
      sum += Math.max(0, Math.min(all, view.getUint32(at + 24, true)) - start);
    }
    return sum <= SHARED * all;
  }
}

const sizeOf = ({ from, to }: Chunk) => to - from;
