import { DEFAULT_KIT, findPiece, pieceOf, type PieceId, type Flam, type Hit } from '../model';
import { PPQ, type Ticks, type Velocity } from '../time';

/** What one character says about a stroke. */
export interface Meaning {
  articulation: string;
  velocity: Velocity;
  flam?: Flam;
  choke?: Ticks;
}

/** Velocities of the three ways a drum part is written, and of the digits 1 to 9. */
export const WRITTEN = { ghost: 34, hit: 96, accent: 120 } as const;
export const DIGITS: readonly Velocity[] = [20, 33, 46, 60, 73, 86, 100, 113, 127];

export const TAB_FLAM: Flam = { strokes: 1, lead: 25, softness: 0.5 };
export const TAB_DRAG: Flam = { strokes: 2, lead: 60, softness: 0.55 };
/** Where a choked stroke is stopped: a sixteenth after it. */
export const TAB_CHOKE: Ticks = PPQ / 4;

/** Characters that say nothing is struck. */
export const RESTS = '-. _';

/** The letter of each further way to strike a piece; its capital is the accent. */
const LETTERS: Readonly<Record<string, string>> = {
  'hihat/open': 'o',
  'hihat/half-open': 'h',
  'hihat/pedal': 'p',
  'ride/bell': 'b',
  'snare/rim': 'r',
  'snare/side-stick': 's',
  'kick/soft': 's',
};
const SPARE_LETTERS = ['q', 'z'];

/** Drums are written with o, everything of metal or wood with x, as drum parts have it. */
export function usualLetter(piece: PieceId): 'o' | 'x' {
  return pieceOf(piece).articulations[0].head === 'dot' ? 'o' : 'x';
}

export function letterOf(piece: PieceId, articulation: string): string {
  const { articulations } = pieceOf(piece);
  const index = articulations.findIndex((a) => a.id === articulation);
  if (index <= 0) return usualLetter(piece);
  return LETTERS[`${piece}/${articulation}`] ?? SPARE_LETTERS[index - 1];
}

/** What a line is for: a piece, struck as usual, or one further way to strike it. */
export interface TabLine {
  piece: PieceId;
  /** The articulation, where the line is for a further one alone. */
  way?: string;
}

/** Lines are told apart by what they are for. */
export const keyOfLine = ({ piece, way }: TabLine): string => (way ? `${piece}/${way}` : piece);

const tables = new Map<string, ReadonlyMap<string, Meaning>>();

/** What each character says on a line. Where two say the same, the first is written. */
export function signsOf(line: TabLine): ReadonlyMap<string, Meaning> {
  const known = tables.get(keyOfLine(line));
  if (known) return known;
  const { piece, way } = line;
  const signs = new Map<string, Meaning>();
  const { articulations } = pieceOf(piece);
  const usual = way ?? articulations[0].id;
  const letters = way ? [] : articulations.map(({ id }) => [letterOf(piece, id), id] as const);
  for (const [letter, id] of [...letters, [usualLetter(piece), usual] as const]) {
    signs.set(letter, { articulation: id, velocity: WRITTEN.hit });
    signs.set(letter.toUpperCase(), { articulation: id, velocity: WRITTEN.accent });
  }
  const struck = (sign: string, velocity: Velocity, more: Partial<Meaning> = {}) => {
    if (!signs.has(sign)) signs.set(sign, { articulation: usual, velocity, ...more });
  };
  struck('g', WRITTEN.ghost);
  struck('f', WRITTEN.hit, { flam: TAB_FLAM });
  struck('F', WRITTEN.accent, { flam: TAB_FLAM });
  struck('d', WRITTEN.hit, { flam: TAB_DRAG });
  struck('D', WRITTEN.accent, { flam: TAB_DRAG });
  struck('c', WRITTEN.hit, { choke: TAB_CHOKE });
  struck('C', WRITTEN.accent, { choke: TAB_CHOKE });
  DIGITS.forEach((velocity, i) => struck(String(i + 1), velocity));
  // Read, but never written: the letter of the other kind of piece.
  struck('x', WRITTEN.hit);
  struck('X', WRITTEN.accent);
  struck('o', WRITTEN.hit);
  struck('O', WRITTEN.accent);
  tables.set(keyOfLine(line), signs);
  return signs;
}

/** The character that says exactly this stroke; undefined when none does. */
export function signOf(line: TabLine, hit: Hit): string | undefined {
  for (const [sign, meaning] of signsOf(line)) if (says(meaning, hit)) return sign;
  return undefined;
}

/** The character that comes nearest to a stroke: its articulation first, then how hard it is. */
export function nearestSign(line: TabLine, hit: Hit): string {
  let best = usualLetter(line.piece) as string;
  let least = Infinity;
  for (const [sign, meaning] of signsOf(line)) {
    const other =
      (meaning.articulation === hit.articulation ? 0 : 1000) +
      (meaning.flam?.strokes === hit.flam?.strokes ? 0 : 500) +
      (!meaning.choke === !hit.choke ? 0 : 500) +
      Math.abs(meaning.velocity - hit.velocity);
    if (other < least) [best, least] = [sign, other];
  }
  return best;
}

function says({ articulation, velocity, flam, choke }: Meaning, hit: Hit): boolean {
  return (
    articulation === hit.articulation &&
    velocity === hit.velocity &&
    choke === hit.choke &&
    flam?.strokes === hit.flam?.strokes &&
    flam?.lead === hit.flam?.lead &&
    flam?.softness === hit.flam?.softness
  );
}

const LABELS: Readonly<Record<PieceId, string>> = {
  crash: 'CC',
  'crash-2': 'C2',
  splash: 'SP',
  china: 'CH',
  ride: 'RD',
  'ride-2': 'R2',
  hihat: 'HH',
  snare: 'SD',
  'tom-high': 'T1',
  'tom-hi-mid': 'T2',
  'tom-low-mid': 'T3',
  'tom-low': 'T4',
  'tom-high-floor': 'T5',
  'tom-low-floor': 'T6',
  kick: 'BD',
  clap: 'CP',
  tambourine: 'TB',
  cowbell: 'CB',
  vibraslap: 'VS',
  bongos: 'BG',
  congas: 'CG',
  timbales: 'TI',
  agogo: 'AG',
  cabasa: 'CA',
  maracas: 'MA',
  whistle: 'WH',
  guiro: 'GU',
  claves: 'CL',
  'wood-block': 'WB',
  cuica: 'CU',
  triangle: 'TR',
};

/** The letters before a line: those of the piece, with the letter of the way it is struck behind them. */
export function labelOf({ piece, way }: TabLine): string {
  const label = LABELS[piece] ?? `N${piece.slice('note-'.length)}`;
  return way ? label + letterOf(piece, way) : label;
}

/** What other hands write before their lines. */
const OTHER_LABELS: Readonly<Record<string, PieceId>> = {
  C: 'crash',
  CR: 'crash',
  C1: 'crash',
  CY: 'crash',
  R: 'ride',
  RC: 'ride',
  H: 'hihat',
  HI: 'hihat',
  S: 'snare',
  SN: 'snare',
  T: 'tom-high',
  HT: 'tom-high',
  MT: 'tom-low-mid',
  LT: 'tom-low',
  F: 'tom-high-floor',
  FT: 'tom-high-floor',
  F1: 'tom-high-floor',
  F2: 'tom-low-floor',
  B: 'kick',
  K: 'kick',
  KD: 'kick',
  KI: 'kick',
};

/** What other hands write before a line of one way to strike a piece. */
const OTHER_WAYS: Readonly<Record<string, TabLine>> = {
  HF: { piece: 'hihat', way: 'pedal' },
  FH: { piece: 'hihat', way: 'pedal' },
  XS: { piece: 'snare', way: 'side-stick' },
  CS: { piece: 'snare', way: 'side-stick' },
};

const byLabel = new Map<string, PieceId>(Object.entries(OTHER_LABELS));
for (const { id } of DEFAULT_KIT.pieces) byLabel.set(labelOf({ piece: id }), id);
const byName = new Map(DEFAULT_KIT.pieces.map((piece) => [piece.name.toUpperCase(), piece.id]));

/** The line a label or a full name stands for; undefined when it is none we know. */
export function lineOfLabel(label: string): TabLine | undefined {
  const upper = label.trim().toUpperCase();
  const note = /^N(\d{1,3})$/.exec(upper);
  if (note) {
    const piece = findPiece(`note-${Number(note[1])}`)?.id;
    return piece ? { piece } : undefined;
  }
  const piece = byLabel.get(upper) ?? byName.get(upper);
  return piece ? { piece } : (OTHER_WAYS[upper] ?? lineOfWay(upper));
}

/** "HHP": the letter of a further way behind the label of its piece. */
function lineOfWay(label: string): TabLine | undefined {
  const piece = byLabel.get(label.slice(0, -1));
  const letter = label.slice(-1).toLowerCase();
  const ways = piece ? pieceOf(piece).articulations.slice(1) : [];
  const way = ways.find(({ id }) => letterOf(piece!, id) === letter);
  return way && { piece: piece!, way: way.id };
}
