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

const tables = new Map<PieceId, ReadonlyMap<string, Meaning>>();

/** What each character says on the line of a piece. Where two say the same, the first is written. */
export function signsOf(piece: PieceId): ReadonlyMap<string, Meaning> {
  const known = tables.get(piece);
  if (known) return known;
  const signs = new Map<string, Meaning>();
  const [usual, ...others] = pieceOf(piece).articulations;
  for (const { id } of [usual, ...others]) {
    const letter = letterOf(piece, id);
    signs.set(letter, { articulation: id, velocity: WRITTEN.hit });
    signs.set(letter.toUpperCase(), { articulation: id, velocity: WRITTEN.accent });
  }
  const struck = (sign: string, velocity: Velocity, more: Partial<Meaning> = {}) => {
    if (!signs.has(sign)) signs.set(sign, { articulation: usual.id, velocity, ...more });
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
  tables.set(piece, signs);
  return signs;
}

/** The character that says exactly this stroke; undefined when none does. */
export function signOf(piece: PieceId, hit: Hit): string | undefined {
  for (const [sign, meaning] of signsOf(piece)) if (says(meaning, hit)) return sign;
  return undefined;
}

/** The character that comes nearest to a stroke: its articulation first, then how hard it is. */
export function nearestSign(piece: PieceId, hit: Hit): string {
  let best = usualLetter(piece) as string;
  let least = Infinity;
  for (const [sign, meaning] of signsOf(piece)) {
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

/** The two or more letters before the line of a piece. */
export function labelOf(piece: PieceId): string {
  return LABELS[piece] ?? `N${piece.slice('note-'.length)}`;
}

/** What other hands write before their lines. */
const OTHER_LABELS: Readonly<Record<string, PieceId>> = {
  C: 'crash',
  CR: 'crash',
  C1: 'crash',
  CY: 'crash',
  R: 'ride',
  RC: 'ride',
  RB: 'ride',
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

const byLabel = new Map<string, PieceId>(Object.entries(OTHER_LABELS));
for (const piece of DEFAULT_KIT.pieces) byLabel.set(labelOf(piece.id), piece.id);
const byName = new Map(DEFAULT_KIT.pieces.map((piece) => [piece.name.toUpperCase(), piece.id]));

/** The piece a label or a full name stands for; undefined when it is none we know. */
export function pieceOfLabel(label: string): PieceId | undefined {
  const upper = label.trim().toUpperCase();
  const note = /^N(\d{1,3})$/.exec(upper);
  if (note) return findPiece(`note-${Number(note[1])}`)?.id;
  return byLabel.get(upper) ?? byName.get(upper);
}
