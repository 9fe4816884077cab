import { STEP_RATES, type Ticks } from '../time';
import { RESTS } from './signs';

/** The bars of one line of a system, as they were typed. */
export interface TypedLine {
  number: number;
  bars: string[];
}

/** How far a bar may be longer or shorter than those under it and still be meant like them. */
const SLIP = 2;

const lengthOf = (bar: string) => [...bar].length;
const withoutBlanks = (bar: string) => bar.replaceAll(' ', '');

function isUsual(length: number, bar: Ticks): boolean {
  return length > 0 && STEP_RATES.some(({ ticks }) => Math.abs(ticks - bar / length) < 1e-6);
}

/**
 * Makes of the lines of a system what they were meant to be: blanks are time, or only keep the strokes
 * apart, whichever makes the lines agree; a bar that is a character or two too long or short is as long
 * as those under it. Strokes are never moved or cut. What was guessed is reported with its line.
 * @param bar length of a bar in ticks
 */
export function evened<L extends TypedLine>(
  lines: readonly L[],
  bar: Ticks,
  report: string[],
): L[] {
  const as = (change: (text: string) => string) =>
    lines.map((line) => ({ ...line, bars: line.bars.map(change) }));
  const trimmed = as((text) => text.trimEnd());
  const plain = as(withoutBlanks);
  const ways = [trimmed, lines, plain];
  const meant = ways.reduce((best, way) =>
    agreement(way, bar) > agreement(best, bar) ? way : best,
  );
  if (meant === plain) {
    const where = plain.filter((line, i) => line.bars.join() !== trimmed[i].bars.join());
    report.push(`${named(where)}: blanks were read as room between the characters, not as rests.`);
  }
  const most = meant.reduce((longest, line) => Math.max(longest, line.bars.length), 0);
  const lengths = Array.from({ length: most }, (_, index) => commonLength(meant, index, bar));
  return meant.map((line) => ({
    ...line,
    bars: line.bars.map((text, index) =>
      fitted(text, lengths[index], { line, index, bar, report }),
    ),
  }));
}

const named = (lines: readonly TypedLine[]) =>
  `${lines.length > 1 ? 'Lines' : 'Line'} ${lines.map(({ number }) => number).join(', ')}`;

/** How well lines agree: the bars that are of a usual step rate, and of the length of those under them. */
function agreement(lines: readonly TypedLine[], bar: Ticks): number {
  const most = lines.reduce((longest, line) => Math.max(longest, line.bars.length), 0);
  let points = 0;
  for (let index = 0; index < most; index++) {
    const lengths = lines.flatMap(({ bars }) => (bars[index] ? [lengthOf(bars[index])] : []));
    points += lengths.filter((length) => isUsual(length, bar)).length;
    points += lengths.length - new Set(lengths).size;
  }
  return points;
}

/** The usual length that most lines have in a bar; nothing where none has one. */
function commonLength(lines: readonly TypedLine[], index: number, bar: Ticks): number | undefined {
  const counts = new Map<number, number>();
  for (const { bars } of lines) {
    const length = lengthOf(bars[index] ?? '');
    if (isUsual(length, bar)) counts.set(length, (counts.get(length) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

interface Where {
  line: TypedLine;
  index: number;
  bar: Ticks;
  report: string[];
}

/** A bar as long as those under it, where only rests at its end are missing or too many. */
function fitted(text: string, wanted: number | undefined, where: Where): string {
  const signs = [...text];
  const off = signs.length - (wanted ?? signs.length);
  if (wanted === undefined || signs.length === 0 || off === 0) return text;
  if (isUsual(signs.length, where.bar) || Math.abs(off) > SLIP) return text;
  const { line, index, report } = where;
  const place = `Line ${line.number}, bar ${index + 1}, has ${signs.length} characters where others have ${wanted}`;
  if (off < 0) {
    report.push(`${place}: it was filled up with rests at its end.`);
    return text + '-'.repeat(-off);
  }
  // A stroke at the end is kept: the bar is then read as so many equal steps.
  if (signs.slice(wanted).some((sign) => !RESTS.includes(sign))) return text;
  report.push(`${place}: the rests at its end were left out.`);
  return signs.slice(0, wanted).join('');
}
