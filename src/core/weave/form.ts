import {
  findSection,
  kindNamed,
  MAX_SECTION_BARS,
  MOST,
  sectionKindFor,
  spanOver,
  type Pattern,
  type Place,
  type Section,
  type SectionKind,
  type Song,
} from '../model';
import {
  barTicks,
  isMeter,
  MAX_BPM,
  meterName,
  MIN_BPM,
  sameMeter,
  COMMON_TIME,
  type Bpm,
  type Meter,
} from '../time';
import { guideStart } from './guideStart';
import { freeId, freeIdsIn, shelfOf } from './shelf';

/** One item of a form: a section, so often in a row. */
export interface FormPart {
  name: string;
  /** Absent is what the pattern that fits has, or four. */
  bars?: number;
  /** Absent is common time, or that of the pattern that is asked for. */
  meter?: Meter;
  bpm?: Bpm;
  /** The name of the pattern it plays; absent is the one that fits by kind and name. */
  pattern?: string;
  times: number;
}

/** Something in a typed form that could not be read. */
export interface FormProblem {
  /** Which letters of the text, the last not included. */
  from: number;
  to: number;
  what: string;
}

/** Most repeats that one item can ask for. */
const MOST_TIMES = 100;

interface Token {
  text: string;
  quoted: boolean;
  from: number;
  to: number;
}

/** Short names that musicians write in a form. */
const SHORT: ReadonlyMap<string, string> = new Map([
  ['v', 'verse'],
  ['ch', 'chorus'],
  ['br', 'bridge'],
]);

/**
 * Reads a form that was typed: "intro 4, verse 8, bridge 7/8 x 6, chorus 8 x 2". Items stand between
 * commas, semicolons or line ends; docs/formats/form.md has the whole of it. What cannot be read is
 * told beside its word, and the rest is read all the same. Linear in the text.
 */
export function readForm(text: string): { parts: FormPart[]; problems: FormProblem[] } {
  const parts: FormPart[] = [];
  const problems: FormProblem[] = [];
  let places = 0;
  for (const tokens of itemsOf(text.slice(0, MOST.text))) {
    const part = readItem(tokens, problems);
    if (!part) continue;
    places += part.times;
    if (places > MOST.places) {
      const { from } = tokens[0];
      problems.push({ from, to: tokens.at(-1)!.to, what: 'That is more than a song can hold.' });
      break;
    }
    parts.push(part);
  }
  return { parts, problems };
}

/** The words of each item, with where they stand. */
function itemsOf(text: string): Token[][] {
  const items: Token[][] = [[]];
  const word = /"([^"\n]*)("?)|[,;\n]|[×*@=]|[^\s,;"×*@=]+/g;
  for (let found = word.exec(text); found; found = word.exec(text)) {
    const [all, quoted] = found;
    const at = { from: found.index, to: found.index + all.length };
    if (all === ',' || all === ';' || all === '\n') items.push([]);
    else if (quoted !== undefined) items.at(-1)!.push({ text: quoted, quoted: true, ...at });
    else {
      // "x2" and "4x" are written as often as "x 2".
      const times = /^(\d*)[x×](\d*)$/i.exec(all);
      const pieces = times ? [times[1], 'x', times[2]].filter(Boolean) : [all];
      for (const piece of pieces) items.at(-1)!.push({ text: piece, quoted: false, ...at });
    }
  }
  return items.filter((item) => item.length > 0);
}

const isNumber = ({ text, quoted }: Token) => !quoted && /^\d+(\.\d+)?$/.test(text);
const isMeterWord = ({ text, quoted }: Token) => !quoted && /^\d+\/\d+$/.test(text);
const isWord = (token: Token | undefined, ...words: string[]) =>
  token !== undefined && !token.quoted && words.includes(token.text.toLowerCase());
const isTimes = (token: Token | undefined) => isWord(token, 'x', '×', '*', 'times');

function readItem(tokens: Token[], problems: FormProblem[]): FormPart | undefined {
  const before = problems.length;
  const say = ({ from, to }: Token, what: string) => void problems.push({ from, to, what });
  const names: string[] = [];
  let i = 0;
  if (tokens[0].quoted) names.push(tokens[i++].text);
  else {
    while (
      i < tokens.length &&
      !isNumber(tokens[i]) &&
      !isMeterWord(tokens[i]) &&
      !isSign(tokens[i])
    ) {
      names.push(tokens[i++].text);
    }
    // "verse 2 8": of two numbers in a row the first belongs to the name.
    if (
      isNumber(tokens[i] ?? tokens[0]) &&
      tokens[i + 1] &&
      isNumber(tokens[i + 1]) &&
      names.length > 0
    ) {
      if (!isWord(tokens[i + 2], 'bpm')) names.push(tokens[i++].text);
    }
  }
  const short = names.length === 1 && !tokens[0].quoted && SHORT.get(names[0].toLowerCase());
  const name = short || names.join(' ');
  if (name.trim() === '') {
    say(tokens[0], 'An item begins with the name of a section, as in “verse 8”.');
    return undefined;
  }
  const part: FormPart = { name: name.trim().slice(0, 300), times: 1 };
  while (i < tokens.length) {
    const token = tokens[i];
    const next = tokens[i + 1];
    if (isMeterWord(token)) {
      const [beats, unit] = token.text.split('/').map(Number);
      if (isMeter({ beats, unit })) part.meter = { beats, unit };
      else say(token, `“${token.text}” is no time signature: write 4/4, 7/8 or 12/8.`);
      i++;
    } else if (isTimes(token)) {
      if (!next || !isNumber(next)) {
        say(token, 'Behind “x” stands how often, as in “chorus 8 x 2”.');
        i++;
        continue;
      }
      const count = Number(next.text);
      // "7/8 x 6" is six bars of seven eighths; "8 x 2" is eight bars, two times.
      const isBars = part.bars === undefined && part.meter !== undefined;
      if (isBars) setBars(part, next, say);
      else if (Number.isInteger(count) && count >= 1 && count <= MOST_TIMES) part.times = count;
      else say(next, `A section is repeated 1 to ${MOST_TIMES} times.`);
      i += 2;
    } else if (isWord(token, '@', 'at')) {
      if (next && isNumber(next)) setBpm(part, next, say);
      else say(token, 'Behind “@” stands a tempo, as in “@ 96”.');
      i += next && isNumber(next) ? 2 : 1;
      if (isWord(tokens[i], 'bpm')) i++;
    } else if (isNumber(token) && isWord(next, 'bpm')) {
      setBpm(part, token, say);
      i += 2;
    } else if (isNumber(token)) {
      if (part.bars === undefined) setBars(part, token, say);
      else say(token, `“${part.name}” has its ${part.bars} bars already: what is this number?`);
      i++;
    } else if (isWord(token, 'bar', 'bars')) i++;
    else if (isWord(token, '=', 'with')) {
      if (next) part.pattern = next.text.slice(0, 300);
      else say(token, 'Behind “=” stands the name of a pattern, as in = "Beat 1".');
      i += 2;
    } else {
      say(token, `“${token.text}” is not understood here. Between two sections stands a comma.`);
      i++;
    }
  }
  return problems.length > before && part.bars === undefined && tokens.length === 1
    ? undefined
    : part;
}

const isSign = (token: Token) =>
  isTimes(token) || isWord(token, '@', 'at', '=', 'with', 'bars', 'bpm');

function setBars(part: FormPart, token: Token, say: (token: Token, what: string) => void): void {
  const bars = Number(token.text);
  if (Number.isInteger(bars) && bars >= 1 && bars <= MAX_SECTION_BARS) part.bars = bars;
  else say(token, `A section has 1 to ${MAX_SECTION_BARS} whole bars.`);
}

function setBpm(part: FormPart, token: Token, say: (token: Token, what: string) => void): void {
  const bpm = Number(token.text);
  if (bpm >= MIN_BPM && bpm <= MAX_BPM) part.bpm = bpm;
  else say(token, `A tempo is ${MIN_BPM} to ${MAX_BPM} beats a minute.`);
}

/** A form as text that is read back as the same form. */
export function writeForm(parts: readonly FormPart[]): string {
  return parts
    .map(({ name, bars, meter, bpm, pattern, times }) =>
      [
        plainName(name) ? name : quoted(name),
        meter && meterName(meter),
        bars,
        // Without bars, “x” behind a meter would be read as bars.
        times > 1 && (meter && bars === undefined ? undefined : `x ${times}`),
        bpm !== undefined && `@ ${bpm}`,
        pattern !== undefined && `= ${quoted(pattern)}`,
      ]
        .filter((word) => word !== undefined && word !== false)
        .join(' '),
    )
    .join(', ');
}

const RESERVED = new Set(['x', 'times', 'at', 'with', 'bar', 'bars', 'bpm']);
const plainName = (name: string) =>
  /^[\p{L}][\p{L}'’-]*( [\p{L}][\p{L}'’-]*)*$/u.test(name) &&
  !name.split(' ').some((word) => RESERVED.has(word.toLowerCase())) &&
  !SHORT.has(name.toLowerCase());
const quoted = (name: string) => `"${name.replace(/["\n]/g, "'")}"`;

/** The form a song has: each section with its bars, and what differs from the song's usual. */
export function formOf(song: Song): FormPart[] {
  const parts: FormPart[] = [];
  let before: Section | undefined;
  for (const place of song.places) {
    const section = findSection(song, place.section);
    if (!section) continue;
    const last = parts.at(-1);
    if (section === before && last && last.times < MOST_TIMES) last.times++;
    else parts.push(partOf(section));
    before = section;
  }
  return parts;
}

function partOf(section: Section): FormPart {
  const [{ meter }] = section.meters;
  const bpm = section.tempos[0]?.bpm;
  return {
    name: section.name.replace(/["\n]/g, "'").trim() || 'part',
    bars: section.bars,
    ...(!sameMeter(meter, COMMON_TIME) && { meter }),
    ...(bpm !== undefined && { bpm }),
    times: 1,
  };
}

/** A song laid out in a form, and what should be known of it. */
export interface Formed {
  song: Song;
  /** Sections for which no pattern of the shelf fits: they are silent for now. */
  silent: string[];
}

/**
 * Lays a song out as a form says. Items that are in the song already (the same name, bars, meter and
 * tempo) keep their places with all that is laid over them, in the order they come; others get a section
 * with the pattern of the shelf that fits by kind and name. Sections that the form does not name go.
 */
export function layForm(song: Song, parts: readonly FormPart[]): Formed {
  const places: Place[] = [];
  const sections = [...song.sections];
  const silent: string[] = [];
  const made = new Map<string, Section>();
  const free = freeIdsIn(song);
  const known = new Map<string, Section>();
  const keys = new Map<string, string>();
  for (const section of song.sections) {
    const key = keyOf(partOf(section));
    keys.set(section.id, key);
    if (!known.has(key)) known.set(key, section);
  }
  /** Places that are there already, by what they are in a form, in the order they come. */
  const there = new Map<string, Place[]>();
  for (const place of song.places) {
    const key = keys.get(place.section);
    if (key === undefined) continue;
    const alike = there.get(key);
    if (alike) alike.push(place);
    else there.set(key, [place]);
  }
  for (const alike of there.values()) alike.reverse();
  const likeliest = patternsFor(song);
  for (const part of parts) {
    const pattern = likeliest(part);
    const full: FormPart = {
      ...part,
      bars: part.bars ?? Math.max(4, pattern ? barsIn(pattern) : 4),
      ...(part.meter === undefined &&
        pattern &&
        !sameMeter(pattern.meter, COMMON_TIME) && { meter: pattern.meter }),
    };
    const key = keyOf(full);
    for (let n = 0; n < part.times; n++) {
      const place = there.get(key)?.pop();
      if (place) {
        places.push(place);
        continue;
      }
      const asked = key + (part.pattern ?? '');
      let section = made.get(asked) ?? (part.pattern ? undefined : known.get(key));
      if (!section) {
        section = sectionFor(full, pattern, free(slug(part.name)));
        made.set(asked, section);
        if (!known.has(key)) known.set(key, section);
        sections.push(section);
        if (!pattern) silent.push(part.name);
      }
      places.push({ id: free(`${section.id}-place`), section: section.id, overlay: [] });
    }
  }
  const used = new Set(places.map(({ section }) => section));
  const kept = new Set(places.map(({ id }) => id));
  return {
    song: {
      ...song,
      places,
      sections: sections.filter(({ id }) => used.has(id)),
      guides: song.guides.map((guide) => {
        if (!guide.place || kept.has(guide.place)) return guide;
        // Where its place is gone, it stays where it was in the song.
        const { place: _, ...rest } = guide;
        return { ...rest, at: guideStart(song, guide) };
      }),
    },
    silent,
  };
}

const slug = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 40) || 'part';

function keyOf({ name, bars, meter, bpm }: FormPart): string {
  return JSON.stringify([name.toLowerCase(), bars, meterName(meter ?? COMMON_TIME), bpm]);
}

const barsIn = ({ length, meter }: Pattern) => Math.ceil(length / barTicks(meter));

function sectionFor(part: FormPart, pattern: Pattern | undefined, id: string): Section {
  return {
    id,
    name: part.name,
    kind: kindOf(part.name),
    bars: part.bars!,
    meters: [{ bar: 0, meter: part.meter ?? COMMON_TIME }],
    tempos: part.bpm === undefined ? [] : [{ at: 0, bpm: part.bpm }],
    spans: pattern ? [spanOver(pattern.id, 'span')] : [],
  };
}

/** A section of a name as a form would make it, with the pattern that fits; undefined is none that does. */
export function sectionNamed(song: Song, name: string): { section: Section; pattern?: Pattern } {
  const pattern = patternsFor(song)({ name, times: 1 });
  const part: FormPart = {
    name,
    bars: Math.max(4, pattern ? barsIn(pattern) : 4),
    ...(pattern && { meter: pattern.meter }),
    times: 1,
  };
  return {
    section: sectionFor(part, pattern, freeId(song, slug(name))),
    ...(pattern && { pattern }),
  };
}

const kindOf = (name: string): SectionKind => kindNamed(name) ?? 'part';

/** Finds the pattern of the shelf that fits an item: the one it names, or the likeliest by name and kind. */
function patternsFor(song: Song): (part: FormPart) => Pattern | undefined {
  const shelf = shelfOf(song).map((one) => ({
    one,
    called: one.name.toLowerCase(),
    words: wordsOf(one.name),
    kind: sectionKindFor(one),
    isCommon: sameMeter(one.meter, COMMON_TIME),
  }));
  const beats = shelf.filter(({ one }) => one.kind !== 'fill');
  return ({ name, pattern, meter }) => {
    if (pattern !== undefined) {
      const wanted = pattern.toLowerCase();
      const found =
        shelf.find(({ called }) => called === wanted) ??
        shelf.find(({ called }) => called.startsWith(wanted));
      return found?.one;
    }
    const kind = kindNamed(name);
    const words = new Set(wordsOf(name));
    let best: { one: Pattern; score: number } | undefined;
    const counted: Pattern[] = [];
    for (const { one, words: own, kind: its, isCommon } of beats) {
      if (meter ? !sameMeter(meter, one.meter) : !isCommon) continue;
      counted.push(one);
      const shared = own.filter((word) => words.has(word)).length;
      const score = 2 * shared + (kind !== undefined && its === kind ? 1 : 0);
      if (score > (best?.score ?? 0)) best = { one, score };
    }
    if (best) return best.one;
    // A meter that only one pattern has says enough.
    return meter && counted.length === 1 && !sameMeter(meter, COMMON_TIME) ? counted[0] : undefined;
  };
}

const wordsOf = (name: string) =>
  name
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter((word) => word.length > 2);
