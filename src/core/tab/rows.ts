/**
 * One row of a text, taken apart. No expression here can backtrack over what was typed: a row costs
 * what its characters cost, whatever they are.
 */

/** `name: value`, for the names that are asked for. */
export function readSetting(
  row: string,
  names: readonly string[],
): { name: string; value: string } | undefined {
  const colon = row.indexOf(':');
  if (colon < 0) return undefined;
  const name = row.slice(0, colon).trim().toLowerCase();
  const value = row.slice(colon + 1).trim();
  return names.includes(name) && value !== '' ? { name, value } : undefined;
}

/** `HH o = open`, or `x = open` for all pieces, or `HH = hats`. */
export interface LegendRow {
  label: string | undefined;
  sign: string;
  words: string;
}

export function readLegend(row: string): LegendRow | undefined {
  const text = row.trim();
  // A legend may explain the sign "=" itself.
  const equals = text.indexOf('=', 1);
  if (equals < 0) return undefined;
  const words = text.slice(equals + 1).trim();
  const named = text.slice(0, equals).trim().split(/\s+/);
  const sign = named.at(-1)!;
  const label = named.length === 2 ? named[0] : undefined;
  const isLabel = label !== undefined && /^[A-Za-z][A-Za-z0-9]{0,3}$/.test(label);
  if (words === '' || sign.length > 4 || (named.length > 1 && !isLabel)) return undefined;
  return { label, sign, words };
}

/** `HH |x-x-|x-x-| x2`: the first bar line may touch the label. */
export interface MusicRow {
  label: string;
  /** What stands between the first bar line and the last. */
  body: string;
  /** How often it is played. */
  times: number;
}

export function readMusic(row: string): MusicRow | undefined {
  const text = row.trim();
  const first = text.search(/[|:]/);
  if (first < 0) return undefined;
  const label = text.slice(0, first).trim();
  if (!/^[A-Za-z][A-Za-z0-9 -]{0,14}$/.test(label)) return undefined;
  const from = first + (isBarLine(text[first + 1]) ? 2 : 1);
  const { end, times } = endOf(text, from);
  const body = text.slice(from, end);
  return body.includes('=') ? undefined : { label, body, times };
}

/** The signs of strokes and rests: a row without bar lines has no others. */
const BARE = /^[-.~_xXoOfFdDgG#@*+ \d]*$/;

/** `hi-hat: x-x-`, `H: x   x`, `HH x-x- 2x`: music without bar lines; a space is a rest. */
export function readBare(row: string): (Omit<MusicRow, 'body'> & { steps: string }) | undefined {
  const text = row.trimEnd();
  const colon = text.indexOf(':');
  const gap = text.trimStart().indexOf(' ') + (text.length - text.trimStart().length);
  const end = colon > 0 ? colon : gap;
  const label = text.slice(0, Math.max(0, end)).trim();
  if (!/^[A-Za-z][A-Za-z0-9 -]{0,14}$/.test(label)) return undefined;
  let steps = text.slice(end + 1);
  // One space, or several before a first stroke, set the label apart.
  steps = colon > 0 ? steps.replace(/^ /, '') : steps.trimStart();
  const last = steps.lastIndexOf(' ');
  const times = last > 0 ? readTimes(steps.slice(last)) : undefined;
  if (times !== undefined) steps = steps.slice(0, last).trimEnd();
  if (!BARE.test(steps) || !/[xXoOfFdDgG]/.test(steps)) return undefined;
  // Without a colon a line of words could be meant: rests tell music from them.
  if (colon < 0 && !/[-.]/.test(steps)) return undefined;
  return { label, steps, times: times ?? 1 };
}

const isBarLine = (sign: string | undefined) => sign === '|' || sign === ':';

/** Where the music of a row ends: at its last bar line, or with the row. */
function endOf(text: string, from: number): { end: number; times: number } {
  let last = text.length - 1;
  while (last >= from && !isBarLine(text[last])) last--;
  const after = text.slice(last + 1).trim();
  const said = readTimes(after);
  if (last < from || (after !== '' && said === undefined)) return { end: text.length, times: 1 };
  let end = last;
  let repeats = text[last] === ':';
  for (; end > from && isBarLine(text[end - 1]); end--) repeats ||= text[end - 1] === ':';
  // A repeat sign without a number: once more.
  return { end, times: said ?? (repeats ? 2 : 1) };
}

/** How often something is played: "x4", "4x", "4 times", "play 4 times". */
export function readTimes(text: string): number | undefined {
  const words = text.trim().toLowerCase().replace(/[()]/g, '').replace(/\s+/g, ' ');
  if (words.length > 24) return undefined;
  const said = /^(?:[x×*] ?(\d{1,2})|(\d{1,2}) ?[x×*]|(?:play |repeat )?(\d{1,2}) times)$/.exec(
    words,
  );
  return said ? Number(said[1] ?? said[2] ?? said[3]) : undefined;
}

/** Counting rows ("1 e & a"), headings and rulers say nothing about strokes. */
export function isRemark(row: string): boolean {
  return /^(legend|[\d\s&+ea.]+|[=\-_*]{3,}|#.*|\/\/.*)$/i.test(row.trim());
}
