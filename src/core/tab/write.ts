import {
  articulationOf,
  pieceOf,
  type PieceId,
  type Hit,
  type Pattern,
  type Strand,
} from '../model';
import { stepOf } from '../pattern';
import { barTicks, meterName, STEP_RATES, type Ticks } from '../time';
import { DIGITS, labelOf, nearestSign, signOf, signsOf, type Meaning, type TabLine } from './signs';

export interface WrittenTab {
  text: string;
  /** Its lines alone, and what their letters mean. */
  body: string;
  legend: string[];
  /** Everything of it that tablature cannot say. */
  lost: Lost;
}

/** Columns a line may have before the next bars go into a system of their own. */
const WIDEST = 72;

/**
 * Writes a pattern as plain drum tablature: one line a kit piece, one character a step. Equal bars
 * that follow each other are written once with a repeat count, and a legend is always there.
 */
export function writeTab(pattern: Pattern): WrittenTab {
  const lost = new Lost();
  const bar = barTicks(pattern.meter);
  const strands = pattern.strands.filter((strand) => strand.hits.length > 0);
  const shown = strands.length > 0 ? strands : pattern.strands.slice(0, 1);
  const count = Math.ceil(pattern.length / bar - 1e-9);
  if (pattern.length % bar !== 0) lost.add('length');
  if (pattern.swing) lost.add('swing');
  const lines = shown.flatMap((strand) => linesOfStrand(pattern, strand, count, lost));
  const systems = systemsOf(
    lines.map(({ bars }) => bars),
    count,
  );
  const width = Math.max(2, ...lines.map((line) => labelOf(line).length));
  const systemTexts = systems.map(({ from, to, times }) =>
    lines
      .map((line) => {
        const bars = line.bars.slice(from, to).join('|');
        return `${labelOf(line).padEnd(width)} |${bars}|${times > 1 ? ` x${times}` : ''}`;
      })
      .join('\n'),
  );
  const rate = STEP_RATES.find(({ ticks }) => ticks === pattern.step);
  const head = [
    `name: ${pattern.name.replaceAll(/\s+/g, ' ').trim()}`,
    `kind: ${pattern.kind}`,
    `meter: ${meterName(pattern.meter)}`,
    ...(rate ? [`step: ${rate.name}`] : []),
  ];
  const legend = legendOf(lines);
  const body = systemTexts.join('\n\n');
  return {
    text: [...head, '', body, '', 'legend', ...legend, '- = rest', ''].join('\n'),
    body,
    legend,
    lost,
  };
}

/** Kinds of loss in tablature, each with its words for one and for `n` of them. */
const LOSSES = {
  length: () => 'the length, which is no whole number of bars',
  swing: () => 'the swing',
  loops: (n: number) =>
    n === 1 ? 'that one line loops at its own length' : `that ${n} lines loop at their own length`,
  recorded: () => 'which sounds are recorded ones',
  shared: (n: number) => `${strokes(n)} on a step where the same piece is struck already`,
  between: (n: number) => `where ${strokes(n)} between two steps ${n === 1 ? 'stands' : 'stand'}`,
  struck: (n: number) => `how ${strokes(n)} ${n === 1 ? 'is' : 'are'} struck`,
  velocity: (n: number) => `the exact strength of ${strokes(n)}`,
  flam: (n: number) => `the time and softness of ${count(n, 'flam')}`,
  choke: (n: number) => `where ${strokes(n)} ${n === 1 ? 'is' : 'are'} choked`,
  push: (n: number) => `how early or late ${strokes(n)} ${n === 1 ? 'is' : 'are'}`,
  burst: (n: number) => count(n, 'burst'),
  cycle: (n: number) => count(n, 'cycle'),
  pan: (n: number) => `the pan of ${strokes(n)}`,
  tune: (n: number) => `the tuning of ${strokes(n)}`,
  reverse: (n: number) => `that ${strokes(n)} ${n === 1 ? 'is' : 'are'} reversed`,
  room: (n: number) => `what ${strokes(n)} ${n === 1 ? 'sends' : 'send'} to the room`,
  echo: (n: number) => `what ${strokes(n)} ${n === 1 ? 'sends' : 'send'} to the echo`,
  duration: (n: number) => `the length of ${strokes(n)}`,
  source: (n: number) => `the MIDI channel of ${strokes(n)}`,
} as const;

export type Loss = keyof typeof LOSSES;

const count = (n: number, one: string) => `${n.toLocaleString('en')} ${one}${n === 1 ? '' : 's'}`;
const strokes = (n: number) => count(n, 'stroke');

/** How often each thing that tablature cannot say was met. */
export class Lost {
  private readonly counts = new Map<Loss, number>();

  add(loss: Loss, times = 1): void {
    this.counts.set(loss, (this.counts.get(loss) ?? 0) + times);
  }

  addAll({ counts }: Lost): void {
    for (const [loss, times] of counts) this.add(loss, times);
  }

  /** A sentence, empty where nothing was lost: "Tablature does not say the exact strength of 151 strokes." */
  said(): string {
    const said = [...this.counts].map(([loss, n]) => LOSSES[loss](n));
    if (said.length === 0) return '';
    const last = said.pop()!;
    return `Tablature does not say ${said.length > 0 ? `${said.join(', ')}, or ` : ''}${last}.`;
  }
}

/** A line with the text of each of its bars. */
interface WrittenLine extends TabLine {
  bars: string[];
}

/**
 * The lines of a strand: one, and one more for each further way to strike the piece whose strengths the
 * letters of the first cannot say.
 */
function linesOfStrand(pattern: Pattern, strand: Strand, count: number, lost: Lost): WrittenLine[] {
  const { piece, hits } = strand;
  const { articulations } = pieceOf(piece);
  if (strand.loopTicks) lost.add('loops');
  const step = gridOf(pattern, strand);
  const apart = articulations.slice(1).filter(({ id }) => {
    const struck = hits.filter(({ articulation }) => articulation === id);
    const line = { piece, way: id };
    return struck.some((hit) => !signOf({ piece }, hit) && signOf(line, hit));
  });
  const taken = new Set<number>();
  const lineOf = (line: TabLine, struck: readonly Hit[]): WrittenLine => ({
    ...line,
    bars: barsOfLine({ ...line, hits: struck }, { step, count, pattern, taken, lost }),
  });
  const further = apart.map(({ id: way }) =>
    lineOf(
      { piece, way },
      hits.filter(({ articulation }) => articulation === way),
    ),
  );
  const rest = hits.filter(({ articulation }) => !apart.some(({ id }) => id === articulation));
  return rest.length > 0 || further.length === 0 ? [lineOf({ piece }, rest), ...further] : further;
}

interface Ruled {
  step: Ticks;
  count: number;
  pattern: Pattern;
  /** Steps on which the piece is struck already, by whatever line. */
  taken: Set<number>;
  lost: Lost;
}

/** The text of each bar of a line, all rests where it is silent. */
function barsOfLine(
  line: TabLine & { hits: readonly Hit[] },
  { step, count, pattern, taken, lost }: Ruled,
): string[] {
  const steps = Math.round(barTicks(pattern.meter) / step);
  const rows = Array.from({ length: count }, () => new Array<string>(steps).fill('-'));
  for (const hit of line.hits) {
    const place = Math.round(hit.at / step);
    const [inBar, row] = [place % steps, rows[Math.floor(place / steps)]];
    if (!row || taken.has(place)) {
      lost.add('shared');
      continue;
    }
    taken.add(place);
    if (Math.abs(place * step - hit.at) > 1e-6) lost.add('between');
    row[inBar] = signOf(line, hit) ?? nearestSign(line, hit);
    sayWhatIsLost(line.piece, hit, signsOf(line).get(row[inBar])!, lost);
  }
  return rows.map((row) => row.join(''));
}

function sayWhatIsLost(piece: PieceId, hit: Hit, meaning: Meaning, lost: Lost): void {
  if (meaning.articulation !== articulationOf(piece, hit.articulation).id) {
    lost.add('struck');
  }
  if (meaning.velocity !== hit.velocity) lost.add('velocity');
  const { flam } = meaning;
  if (
    flam?.lead !== hit.flam?.lead ||
    flam?.softness !== hit.flam?.softness ||
    flam?.strokes !== hit.flam?.strokes
  ) {
    lost.add('flam');
  }
  if (meaning.choke !== hit.choke) lost.add('choke');
  if (hit.push !== 0) lost.add('push');
  for (const [key, loss] of UNSAID) if (hit[key] !== undefined) lost.add(loss);
}

const UNSAID: readonly (readonly [keyof Hit, Loss])[] = [
  ['burst', 'burst'],
  ['cycle', 'cycle'],
  ['pan', 'pan'],
  ['tune', 'tune'],
  ['reverse', 'reverse'],
  ['room', 'room'],
  ['echo', 'echo'],
  ['length', 'duration'],
  ['source', 'source'],
];

/** The coarsest step rate that a whole bar holds and that has a step for each hit of the strand. */
function gridOf(pattern: Pattern, strand: Strand): Ticks {
  const bar = barTicks(pattern.meter);
  const own = stepOf(pattern, strand);
  const fits = (step: Ticks) =>
    bar % step < 1e-6 && strand.hits.every(({ at }) => at % step < 1e-6);
  if (fits(own)) return own;
  const rates = STEP_RATES.map(({ ticks }) => ticks).filter((ticks) => bar % ticks < 1e-6);
  return rates.find(fits) ?? (bar % own < 1e-6 ? own : (rates.at(-1) ?? bar));
}

interface System {
  from: number;
  to: number;
  times: number;
}

function systemsOf(lines: readonly string[][], count: number): System[] {
  const same = (a: number, b: number) => lines.every((bars) => bars[a] === bars[b]);
  const widest = Math.max(1, ...lines.map(([first]) => (first?.length ?? 0) + 1));
  const systems: System[] = [];
  let at = 0;
  while (at < count) {
    let times = 1;
    while (at + times < count && same(at, at + times)) times++;
    const last = systems.at(-1);
    if (times === 1 && last?.times === 1 && (last.to - last.from + 1) * widest <= WIDEST) last.to++;
    else systems.push({ from: at, to: at + 1, times });
    at += times;
  }
  return systems;
}

function legendOf(lines: readonly WrittenLine[]): string[] {
  const rows: string[] = [];
  for (const line of lines) {
    const label = labelOf(line);
    // A line of one way has no name of its own: its label says both.
    if (!line.way) rows.push(`${label} = ${pieceOf(line.piece).name}`);
    const used = [...new Set(line.bars.join(''))].filter((sign) => sign !== '-').sort();
    for (const sign of used) {
      rows.push(`${label} ${sign} = ${said(line.piece, signsOf(line).get(sign)!)}`);
    }
  }
  return rows;
}

/** A meaning in words that `readTab` understands: "open, accent". */
export function said(piece: PieceId, meaning: Meaning): string {
  const { articulations } = pieceOf(piece);
  const words = [];
  if (meaning.articulation !== articulations[0].id) {
    words.push(articulationOf(piece, meaning.articulation).name);
  }
  if (meaning.flam) words.push(meaning.flam.strokes === 1 ? 'flam' : 'drag');
  if (meaning.choke) words.push('choke');
  const digit = DIGITS.indexOf(meaning.velocity);
  if (digit >= 0) words.push(`strength ${digit + 1}`);
  else if (meaning.velocity >= 112) words.push('accent');
  else if (meaning.velocity < 48) words.push('ghost');
  return words.join(', ') || 'hit';
}
