/** Bytes that are read where they are needed: a file may be larger than what fits into memory. */
export interface Bytes {
  size: number;
  /** @returns what lies from one place to another, less where the file ends before */
  read(from: number, to: number): Promise<Uint8Array>;
}

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
/** Tables whose rows are counted by numbers of 16 bits are smaller than this together, in bytes. */
const LARGEST_TABLES = 32 * 1024 ** 2;
/** Parts before the samples that are looked through, and bytes of a bank's name. */
const MOST_PARTS = 64;
const LONGEST_NAME = 256;

/** A part of a file: what it is, and where its content lies. */
interface Chunk {
  id: string;
  from: number;
  to: number;
}

/** A zone: values of its generators by their numbers, of 16 bits without a sign. */
export type Zone = ReadonlyMap<number, number>;

/** A preset: zones that each play an instrument. */
export interface FontPreset {
  name: string;
  preset: number;
  bank: number;
  zones: readonly Zone[];
}

/** A recording of a file: where its samples are, counted in samples from the first of all. */
export interface FontSample {
  name: string;
  start: number;
  end: number;
  rate: number;
  pitch: number;
  correction: number;
  type: number;
}

/** The content of a SoundFont; samples are read when they are asked for. */
export interface FontTables {
  /** Empty where it has none. */
  name: string;
  presets: readonly FontPreset[];
  /** Zones that each play a sample. */
  instrument(index: number): readonly Zone[] | undefined;
  sample(index: number): FontSample | undefined;
  /** Samples from one to another, as whole numbers of 16 bits. */
  samples(from: number, to: number): Promise<Int16Array>;
}

/**
 * Tables whose rows have zones: where a row says its first bag, the tables of bags and generators, and the generator
 * that says which instrument, or which sample, a zone plays.
 */
const ZONED = {
  phdr: { place: 24, bags: 'pbag', generators: 'pgen', plays: 41 },
  inst: { place: 20, bags: 'ibag', generators: 'igen', plays: 53 },
} as const;

/**
 * The tables of a SoundFont that can be read in a time and in memory that its size bounds: three lists one after
 * the other, each table once and within the file, and each row leading on to where the one before it led or further.
 * A made-up file could otherwise state tables of gigabytes, have every row lead through all of the next table, or
 * have every sample be the whole of the file. All numbers of rows are of 16 bits without a sign.
 * Source: SoundFont Technical Specification 2.04, 2006, sections 4 to 8.
 * @returns undefined where it is not in order
 */
export async function readTables(bytes: Bytes): Promise<FontTables | undefined> {
  const parts = await partsOf(bytes);
  if (!parts) return undefined;
  const [info, data, tables] = parts;
  const found = new Map<string, DataView>();
  for (const { id, from, to } of tables) found.set(id, viewOf(await bytes.read(from, to)));
  const ids = Object.keys(ROWS) as TableId[];
  const isWhole = (id: TableId) => found.has(id) && found.get(id)!.byteLength % ROWS[id] === 0;
  if (tables.length !== ids.length || found.size !== ids.length || !ids.every(isWhole)) {
    return undefined;
  }
  const font = new Tables(bytes, await nameOf(bytes, info), data[0], found);
  return font.isInOrder() ? font : undefined;
}

/** The parts of the three lists of a file: facts, samples, tables; undefined where they are not those. */
async function partsOf(bytes: Bytes): Promise<Chunk[][] | undefined> {
  const head = await bytes.read(0, 12);
  if (head.length < 12 || wordIn(head, 0) !== 'RIFF' || wordIn(head, 8) !== 'sfbk')
    return undefined;
  const lists = await chunksOf(bytes, 12, bytes.size);
  if (!lists || lists.length !== 3 || lists.some(({ id }) => id !== 'LIST')) return undefined;
  if (sizeOf(lists[2]) > LARGEST_TABLES) return undefined;
  const kinds: string[] = [];
  const parts: Chunk[][] = [];
  for (const { from, to } of lists) {
    kinds.push(wordIn(await bytes.read(from, from + 4), 0));
    const chunks = await chunksOf(bytes, from + 4, to);
    if (!chunks || chunks.some(({ id }) => id === 'LIST' || id === 'RIFF')) return undefined;
    parts.push(chunks);
  }
  return kinds.join() === 'INFO,sdta,pdta' ? parts : undefined;
}

/** The tables of a file, looked up row by row. */
class Tables implements FontTables {
  private readonly instruments = new Map<number, Zone[]>();
  /** Samples of the whole file. */
  private readonly all: number;
  private made: FontPreset[] | undefined;

  constructor(
    private readonly bytes: Bytes,
    readonly name: string,
    private readonly data: Chunk | undefined,
    private readonly found: ReadonlyMap<string, DataView>,
  ) {
    this.all = data ? Math.floor(sizeOf(data) / 2) : 0;
  }

  /** Whether rows lead on to rows that are there, and samples are not read again and again. */
  isInOrder(): boolean {
    if (!LEADS.every(([from, place, to]) => this.leadsOn(from, place, to))) return false;
    const { all } = this;
    let sum = 0;
    for (let row = 0; row < this.rowsIn('shdr'); row++) {
      const { start, end } = this.sampleAt(row);
      sum += Math.max(0, Math.min(all, end) - Math.min(all, start));
    }
    return sum <= SHARED * all;
  }

  get presets(): readonly FontPreset[] {
    const view = this.table('phdr');
    this.made ??= Array.from({ length: this.rowsIn('phdr') }, (_, row) => {
      const at = row * ROWS.phdr;
      return {
        name: textIn(view, at),
        preset: view.getUint16(at + 20, true),
        bank: view.getUint16(at + 22, true),
        zones: this.zonesOf('phdr', row),
      };
    });
    return this.made;
  }

  instrument(index: number): readonly Zone[] | undefined {
    if (index >= this.rowsIn('inst')) return undefined;
    let known = this.instruments.get(index);
    if (!known) this.instruments.set(index, (known = this.zonesOf('inst', index)));
    return known;
  }

  sample(index: number): FontSample | undefined {
    return index < this.rowsIn('shdr') ? this.sampleAt(index) : undefined;
  }

  async samples(from: number, to: number): Promise<Int16Array> {
    const { all, data } = this;
    const [first, last] = [from, to].map((at) => Math.max(0, Math.min(all, at)));
    if (!data || last <= first) return new Int16Array(0);
    const read = await this.bytes.read(data.from + 2 * first, data.from + 2 * last);
    return new Int16Array(read.slice().buffer, 0, Math.floor(read.length / 2));
  }

  private table(id: TableId): DataView {
    return this.found.get(id)!;
  }

  /** All rows of a table but the one that ends it. */
  private rowsIn(id: TableId): number {
    return Math.max(0, this.table(id).byteLength / ROWS[id] - 1);
  }

  private leadsOn(from: TableId, place: number, to: TableId): boolean {
    const rows = this.table(to).byteLength / ROWS[to];
    const view = this.table(from);
    for (let at = 0, last = 0; at < view.byteLength; at += ROWS[from]) {
      const next = view.getUint16(at + place, true);
      if (next < last || next > rows) return false;
      last = next;
    }
    return true;
  }

  private sampleAt(row: number): FontSample {
    const view = this.table('shdr');
    const at = row * ROWS.shdr;
    return {
      name: textIn(view, at),
      start: view.getUint32(at + 20, true),
      end: view.getUint32(at + 24, true),
      rate: view.getUint32(at + 36, true),
      pitch: view.getUint8(at + 40),
      correction: view.getInt8(at + 41),
      type: view.getUint16(at + 44, true),
    };
  }

  /** The zones of a row; the first is for all others where it plays nothing itself. */
  private zonesOf(head: keyof typeof ZONED, row: number): Zone[] {
    const { place, bags, generators, plays } = ZONED[head];
    const view = this.table(head);
    const [from, to] = [row, row + 1].map((one) => view.getUint16(one * ROWS[head] + place, true));
    const zones: Zone[] = [];
    let general: Zone = new Map();
    for (let bag = from; bag < to; bag++) {
      const zone = this.generatorsOf(bag, bags, generators);
      if (zone.has(plays)) zones.push(new Map([...general, ...zone]));
      else if (bag === from) general = zone;
    }
    return zones;
  }

  private generatorsOf(bag: number, bags: TableId, generators: TableId): Zone {
    const view = this.table(bags);
    if ((bag + 2) * ROWS[bags] > view.byteLength) return new Map();
    const [from, to] = [bag, bag + 1].map((one) => view.getUint16(one * ROWS[bags], true));
    const list = this.table(generators);
    const zone = new Map<number, number>();
    for (let row = from; row < to && (row + 1) * ROWS[generators] <= list.byteLength; row++) {
      const at = row * ROWS[generators];
      zone.set(list.getUint16(at, true), list.getUint16(at + 2, true));
    }
    return zone;
  }
}

/** The parts one after another between two places; undefined where one goes beyond the end. */
async function chunksOf(bytes: Bytes, from: number, end: number): Promise<Chunk[] | undefined> {
  const chunks: Chunk[] = [];
  for (let at = from; at + 8 <= end;) {
    const head = viewOf(await bytes.read(at, at + 8));
    if (head.byteLength < 8 || chunks.length === MOST_PARTS) return undefined;
    const to = at + 8 + head.getUint32(4, true);
    if (to > end) return undefined;
    chunks.push({
      id: wordIn(new Uint8Array(head.buffer, head.byteOffset, 4), 0),
      from: at + 8,
      to,
    });
    at = to + (to % 2);
  }
  return chunks;
}

async function nameOf(bytes: Bytes, info: readonly Chunk[]): Promise<string> {
  const chunk = info.find(({ id }) => id === 'INAM');
  if (!chunk) return '';
  const read = await bytes.read(chunk.from, Math.min(chunk.to, chunk.from + LONGEST_NAME));
  return textOf(read);
}

const sizeOf = ({ from, to }: Chunk) => to - from;
const viewOf = (bytes: Uint8Array) =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const wordIn = (bytes: Uint8Array, at: number) =>
  String.fromCharCode(...bytes.subarray(at, at + 4));

/** Names in tables have twenty bytes. */
const textIn = (view: DataView, at: number) =>
  textOf(new Uint8Array(view.buffer, view.byteOffset + at, 20));

/** Text up to its first zero; what cannot be read is left out. */
function textOf(bytes: Uint8Array): string {
  const end = bytes.indexOf(0);
  const text = String.fromCharCode(...bytes.subarray(0, end < 0 ? bytes.length : end));
  // Control characters are nothing that is shown.
  return [...text]
    .filter((sign) => sign >= ' ' && sign !== '\u007f')
    .join('')
    .trim();
}
