import {
  MAX_BARS,
  emptyPattern,
  byStaffOrder,
  pieceOf,
  type PieceId,
  PATTERN_KINDS,
  type Hit,
  type Pattern,
  type PatternKind,
  type Strand,
} from '../model';
import { barTicks, COMMON_TIME, isMeter, type Meter, STEP_RATES, type Ticks } from '../time';
import { evened } from './even';
import { isRemark, readBare, readLegend, readMusic, readSetting, readTimes } from './rows';
import {
  DIGITS,
  keyOfLine,
  lineOfLabel,
  RESTS,
  signsOf,
  TAB_CHOKE,
  TAB_DRAG,
  TAB_FLAM,
  WRITTEN,
  type Meaning,
  type TabLine,
} from './signs';

export interface ReadTab {
  /** Undefined when no line could be read. */
  pattern: Pattern | undefined;
  /** What was not understood or had to be repaired, a sentence each with its line. */
  report: string[];
}

/** The longest text that is read: far beyond 64 bars of every piece. */
const LONGEST = 400_000;

interface Line extends TabLine {
  number: number;
  label: string;
  bars: string[];
  times: number;
  /** It was written without bar lines. */
  bare?: true;
}

const SETTINGS = ['name', 'kind', 'meter', 'time', 'step'];

/**
 * Reads plain drum tablature, as `writeTab` writes it and as it is commonly typed: lines under each
 * other belong to one system, systems follow each other. How many characters a bar has says its
 * step rate, line by line. Whatever is not understood is named and left out.
 */
export function readTab(text: string, options: { id: string; name?: string }): ReadTab {
  const report: string[] = [];
  if (text.length > LONGEST) {
    return {
      pattern: undefined,
      report: ['The text is too long for a pattern. Paste less of it.'],
    };
  }
  const settings = new Map<string, string>();
  const legend = new Map<string, Map<string, string>>();
  const labels = new Map<string, TabLine>();
  const systems: Map<string, Line>[] = [];
  let open: Map<string, Line> | undefined;
  const add = (line: Line) => {
    // The same piece again, or a line after a gap, begins the next system.
    const key = `${keyOfLine(line)} ${line.label}`;
    if (!open || open.has(key)) systems.push((open = new Map()));
    open.set(key, line);
  };
  const rows = text.replaceAll('\t', ' ').split(/\r\n|\r|\n/);
  rows.forEach((row, i) => readLegendRow(row, i + 1, { legend, labels, report }));
  rows.forEach((row, i) => {
    const setting = readSetting(row, SETTINGS);
    if (setting) return void settings.set(setting.name, setting.value);
    if (row.trim() === '') return void (open = undefined);
    if (readLegend(row)) return;
    if (!row.includes('|')) {
      const times = readTimes(row);
      const last = systems.at(-1);
      if (times !== undefined && last) {
        // Said below the lines, it is meant for all of them.
        for (const line of last.values()) line.times = Math.max(line.times, bound(times));
        return;
      }
      const bare = isRemark(row) ? undefined : readBare(row);
      const of = bare && (labels.get(bare.label.toUpperCase()) ?? lineOfLabel(bare.label));
      if (bare && of) {
        const { label, steps } = bare;
        const line: Line = { number: i + 1, ...of, label, bars: [steps], times: bound(bare.times) };
        return add({ ...line, bare: true });
      }
      if (!isRemark(row)) {
        report.push(`Line ${i + 1} was not understood: “${shortened(row)}”.`);
      }
      return;
    }
    const line = readLine(row, i + 1, labels, report);
    if (line) add(line);
  });
  for (const system of systems) inBars(system);
  const meter = readMeter(settings.get('meter') ?? settings.get('time'), report);
  const pattern = patternOf(systems, meter, { ...options, settings, legend, report });
  if (!pattern && report.length === 0) {
    report.push(
      'There is no drum tablature in this text. A line looks like “HH |x-x-x-x-|”: a kit piece, a bar line, a character a step.',
    );
  }
  return { pattern, report };
}

/** How many characters a line without bar lines may have for one bar; longer ones are bars of sixteen. */
const BARE_STEPS = [4, 8, 12, 16];

/** Lines without bar lines are as long as the longest of their system, and are cut into bars. */
function inBars(system: Map<string, Line>): void {
  const bare = [...system.values()].filter((line) => line.bare);
  const longest = bare.reduce((most, { bars }) => Math.max(most, bars[0].length), 0);
  const one = BARE_STEPS.find((steps) => longest <= steps && (steps !== 12 || longest === 12));
  const bar = one ?? 16;
  const whole = one ?? Math.ceil(longest / 16) * 16;
  for (const line of bare) {
    const steps = line.bars[0].padEnd(whole, '-');
    line.bars = Array.from({ length: whole / bar }, (_, n) => steps.slice(n * bar, (n + 1) * bar));
  }
}

const shortened = (row: string) => (row.length > 40 ? `${row.trim().slice(0, 40)}…` : row.trim());

interface Legend {
  /** By the key of a line, or '' for all lines. */
  legend: Map<string, Map<string, string>>;
  labels: Map<string, TabLine>;
  report: string[];
}

function readLegendRow(row: string, number: number, { legend, labels, report }: Legend): void {
  const read = readLegend(row);
  if (!read || row.includes('|')) return;
  const { label, sign, words } = read;
  const named = lineOfLabel(words);
  if (!label && named) {
    labels.set(sign.toUpperCase(), named);
    return;
  }
  const line = label && (labels.get(label.toUpperCase()) ?? lineOfLabel(label));
  if ((label && !line) || [...sign].length !== 1) {
    report.push(`Line ${number}, of the legend, was not understood: “${shortened(row)}”.`);
    return;
  }
  const key = line ? keyOfLine(line) : '';
  const signs = legend.get(key) ?? new Map<string, string>();
  legend.set(key, signs.set(sign, words));
}

function readLine(
  row: string,
  number: number,
  labels: ReadonlyMap<string, TabLine>,
  report: string[],
): Line | undefined {
  const music = readMusic(row);
  const label = music?.label ?? '';
  const line = music && (labels.get(label.toUpperCase()) ?? lineOfLabel(label));
  if (!music || !line) {
    if (!isRemark(row.replaceAll('|', ' ')) && !(music && isRemark(music.body))) {
      report.push(
        music
          ? `Line ${number}: there is no kit piece “${label}”. Name it in a legend: “${label} = Snare”.`
          : `Line ${number} was not understood: “${shortened(row)}”.`,
      );
    }
    return undefined;
  }
  const bars = music.body.replaceAll(':', '').split(/\|+/);
  while (bars.length > 1 && bars.at(-1)!.trim() === '') bars.pop();
  return { number, ...line, label, bars, times: bound(music.times) };
}

const bound = (times: number) => Math.max(1, Math.min(MAX_BARS, times));

function readMeter(text: string | undefined, report: string[]): Meter {
  if (!text) return COMMON_TIME;
  const match = /^(\d{1,2})\s*\/\s*(\d{1,2})$/.exec(text);
  const meter = match && { beats: Number(match[1]), unit: Number(match[2]) };
  if (meter && isMeter(meter)) return meter;
  report.push(`The time signature “${text}” was not understood; 4/4 was taken.`);
  return COMMON_TIME;
}

interface Frame {
  id: string;
  name?: string;
  settings: ReadonlyMap<string, string>;
  legend: ReadonlyMap<string, ReadonlyMap<string, string>>;
  report: string[];
}

function patternOf(
  systems: readonly Map<string, Line>[],
  meter: Meter,
  frame: Frame,
): Pattern | undefined {
  const { id, settings, report } = frame;
  const bar = barTicks(meter);
  const hits = new Map<PieceId, Map<Ticks, Hit>>();
  const rates = new Map<Ticks, number>();
  let at = 0;
  let count = 0;
  for (const system of systems) {
    const lines = evened([...system.values()], bar, report);
    const bars = lines.reduce((most, line) => Math.max(most, line.bars.length), 0);
    const times = lines.reduce((most, line) => Math.max(most, line.times), 0);
    for (const line of lines) {
      if (line.bars.length < bars) {
        report.push(
          `Line ${line.number} has ${line.bars.length} of ${bars} bars; the rest is silent.`,
        );
      }
      const strand = hits.get(line.piece) ?? new Map<Ticks, Hit>();
      hits.set(line.piece, strand);
      let shared = 0;
      line.bars.forEach((text, index) => {
        if (text === '') return;
        const step = bar / [...text].length;
        if (!STEP_RATES.some(({ ticks }) => Math.abs(ticks - step) < 1e-6)) {
          report.push(
            `Line ${line.number}: a bar of ${[...text].length} characters was taken as so many equal steps.`,
          );
        }
        rates.set(step, (rates.get(step) ?? 0) + [...text].length);
        [...text].forEach((sign, n) => {
          if (RESTS.includes(sign)) return;
          const meaning = meaningOf(line, sign, frame);
          if (!meaning) {
            report.push(
              `Line ${line.number}: “${sign}” means nothing on ${pieceOf(line.piece).name.toLowerCase()}; that stroke was left out.`,
            );
            return;
          }
          for (let time = 0; time < times; time++) {
            const tick = at + (time * bars + index) * bar + n * step;
            const there = strand.get(tick);
            if (there && there.articulation !== meaning.articulation) shared++;
            else strand.set(tick, { id: `t${count++}`, at: tick, push: 0, ...meaning });
          }
        });
      });
      if (shared > 0) {
        const { name } = pieceOf(line.piece);
        report.push(
          `Line ${line.number}: ${shared === 1 ? 'a stroke was' : `${shared} strokes were`} left out, because another line strikes ${name.toLowerCase()} at the same time.`,
        );
      }
    }
    at += bars * times * bar;
    if (at > MAX_BARS * bar) break;
  }
  if (at === 0) return undefined;
  if (at > MAX_BARS * bar) {
    report.push(`A pattern has at most ${MAX_BARS} bars: what follows was left out.`);
  }
  const length = Math.min(at, MAX_BARS * bar);
  const usual = [...rates].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0];
  const named = STEP_RATES.find(({ name }) => name === settings.get('step'))?.ticks;
  const step = named ?? STEP_RATES.find(({ ticks }) => ticks === usual)?.ticks ?? 240;
  const kind = settings.get('kind') as PatternKind;
  const name = frame.name ?? settings.get('name') ?? 'From tablature';
  const strands = [...hits]
    .sort(([a], [b]) => byStaffOrder(a, b))
    .map(([piece, struck]): Strand => {
      const inOrder = [...struck.values()].sort((a, b) => a.at - b.at);
      return { piece, hits: inOrder.filter((hit) => hit.at < length) };
    });
  return {
    ...emptyPattern({ id, name, meter, kind: PATTERN_KINDS.includes(kind) ? kind : 'groove' }),
    length,
    step,
    strands,
  };
}

/** What a character says on a line: by the legend of the text, or as it is usually written. */
function meaningOf(line: TabLine, sign: string, { legend }: Frame): Meaning | undefined {
  const words = legend.get(keyOfLine(line))?.get(sign) ?? legend.get('')?.get(sign);
  return (words && meaningOfWords(line, words)) || signsOf(line).get(sign);
}

/** "open, accent" as a stroke of a piece; undefined when a word of it says nothing. */
function meaningOfWords({ piece, way: usual }: TabLine, words: string): Meaning | undefined {
  const { articulations } = pieceOf(piece);
  const meaning: Meaning = { articulation: usual ?? articulations[0].id, velocity: WRITTEN.hit };
  for (const word of words.toLowerCase().split(/\s*,\s*/)) {
    const way = articulations.find((a) => a.name.toLowerCase() === word || a.id === word);
    const strength = /^strength ([1-9])$/.exec(word);
    if (way) meaning.articulation = way.id;
    else if (word === 'accent' || word === 'ghost' || word === 'hit') {
      meaning.velocity = WRITTEN[word];
    } else if (word === 'flam') meaning.flam = TAB_FLAM;
    else if (word === 'drag') meaning.flam = TAB_DRAG;
    else if (word === 'choke') meaning.choke = TAB_CHOKE;
    else if (strength) meaning.velocity = DIGITS[Number(strength[1]) - 1];
    else return undefined;
  }
  return meaning;
}
