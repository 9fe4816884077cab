import { HIT_LIMITS, songWith, spreadTempos, within, type Flam, type Song } from '../model';
import {
  count,
  emptyReport,
  fewerTempos,
  Loom,
  MAX_QUARTERS,
  shortMeter,
  type DrumSource,
  type Imported,
  type ImportReport,
  type Part,
  type SourceStroke,
} from '../midi';
import {
  barTicks,
  compileTempo,
  DRUM_CHANNEL,
  MAX_BPM,
  meterName,
  MIN_BPM,
  PPQ,
  pushInMs,
  sameMeter,
  TempoMap,
  type Bpm,
  type Meter,
  type TempoChange,
  type Ticks,
} from '../time';
import { TAB_DRAG, TAB_FLAM } from '../tab';
import { partHead, type PartHead } from './instruments';
import {
  PartReader,
  type PartMeasure,
  type ReadGrace,
  type ReadMeasure,
  type ReadStroke,
} from './measures';
import { MOST_BARS, playingOrder } from './playing';
import { readElements, type Damage } from './tree';

/** A part with what it has in each measure. */
interface ReadPart {
  head: PartHead;
  reader: PartReader;
  measures: PartMeasure[];
}

/** What a score holds, as it is written. */
interface Score {
  root: string;
  title: string;
  parts: ReadPart[];
  measures: ReadMeasure[];
  damage: Damage | undefined;
}

export interface MusicXmlOptions {
  /** Ids of the parts to take, from the report of an earlier reading. Absent: the likely drums. */
  sources?: readonly string[];
}

/**
 * Reads a MusicXML score into a song: repeats and endings are played, grace notes become flams, bars through
 * stems bursts, rehearsal marks sections. Never throws for any text; the report says what was understood and
 * what was left out. A score that ends in the middle is kept up to its last whole measure.
 * @param xml the text of the score
 * @param name the file's name, for the report and the song
 */
export function readMusicXml(xml: string, name: string, options: MusicXmlOptions = {}): Imported {
  const report: ImportReport = { ...emptyReport(name), score: true };
  const score = readScore(xml);
  const error = whyNot(score, name);
  if (error) return { report: { ...report, error } };
  if (score.damage) {
    report.repaired.push(
      `The file is damaged or cut off at line ${score.damage.line}; it was kept up to measure ${score.measures.length}.`,
    );
  }
  report.sources = sourcesOf(score, options.sources);
  const chosen = new Set(report.sources.flatMap((s) => (s.taken ? [s.track] : [])));
  const taken = score.parts.filter((_, i) => chosen.has(i + 1));
  if (taken.length === 0) {
    report.error = options.sources
      ? `No part of “${name}” was chosen; choose at least one to take its hits.`
      : `No part of “${name}” is for drums. Choose what its drums are.`;
    return { report };
  }
  return { song: songOf(score, taken, name, report), report };
}

const PART = 'score-partwise/part/measure';

function readScore(xml: string): Score {
  const score: Score = { root: '', title: '', parts: [], measures: [], damage: undefined };
  const heads = new Map<string, PartHead>();
  const byId = new Map<string, ReadPart>();
  const wanted = new Set([
    'score-partwise/work',
    'score-partwise/movement-title',
    'score-partwise/part-list/score-part',
    PART,
  ]);
  score.damage = readElements(
    xml,
    wanted,
    (path, element, parent) => {
      if (path === PART) {
        const id = parent.id ?? '';
        let part = byId.get(id);
        if (!part) {
          const head = heads.get(id) ?? { id, name: '', instruments: new Map(), drums: false };
          part = { head, reader: new PartReader(head), measures: [] };
          byId.set(id, part);
          score.parts.push(part);
        }
        const { shared, own } = part.reader.read(element);
        const index = part.measures.push(own) - 1;
        score.measures[index] = together(score.measures[index], shared);
      } else if (element.name === 'score-part') {
        const head = partHead(element);
        heads.set(head.id, head);
      } else {
        const title = element.children.find((child) => child.name === 'work-title') ?? element;
        score.title ||= title.text.trim();
      }
    },
    (root) => {
      score.root = root;
    },
  );
  return score;
}

/** What two parts say about one measure: what the first does not say is said by the other. */
function together(known: ReadMeasure | undefined, more: ReadMeasure): ReadMeasure {
  if (!known) return more;
  known.length = Math.max(known.length, more.length);
  known.section ??= more.section;
  if (known.tempos.length === 0) known.tempos = more.tempos;
  known.repeats.begins ||= more.repeats.begins;
  known.repeats.ends ??= more.repeats.ends;
  if (known.endings.length === 0) known.endings = more.endings;
  known.endingStops ||= more.endingStops;
  return known;
}

function whyNot({ root, parts, damage }: Score, name: string): string | undefined {
  if (root === 'score-timewise') {
    return `“${name}” is sorted by measures (timewise). Save it as MusicXML “partwise” and open that.`;
  }
  if (root !== 'score-partwise') {
    return `“${name}” is no MusicXML score${root ? `: it begins with <${root}>` : ''}.`;
  }
  if (parts.length > 0) return undefined;
  return damage
    ? `“${name}” is damaged at line ${damage.line}, before its first measure: there are no hits to take.`
    : `“${name}” holds no measures: there are no hits to take.`;
}

const PERCUSSION_WORDS = /drum|perc|\bkit\b/i;

function sourcesOf({ parts }: Score, asked?: readonly string[]): DrumSource[] {
  const wanted = asked && new Set(asked);
  const sources = parts.map(({ head, reader, measures }, index) => ({
    id: `part:${index}`,
    trackName: head.name,
    track: index + 1,
    channel: DRUM_CHANNEL,
    hits: measures.reduce((sum, { strokes }) => sum + strokes.length, 0),
    likely: head.drums || reader.found.percussion || PERCUSSION_WORDS.test(head.name),
  }));
  const any = sources.some(({ likely, hits }) => likely && hits > 0);
  return sources
    .filter(({ hits, likely }) => hits > 0 || (likely && !any))
    .map(({ likely, ...source }) => ({
      ...source,
      preselected: likely,
      taken: wanted ? wanted.has(source.id) : likely,
    }));
}

/** A bar as it is played. */
interface Played {
  measure: ReadMeasure;
  index: number;
  start: Ticks;
  meter: Meter;
}

function songOf(
  score: Score,
  taken: readonly ReadPart[],
  file: string,
  report: ImportReport,
): Song {
  const played = playedBars(score, report);
  const tempos = temposOf(played, report);
  const tempo = new TempoMap(compileTempo(tempos));
  const strokes: SourceStroke[] = [];
  for (const part of taken) {
    for (const bar of played) {
      for (const stroke of strokesAt(part, bar.index)) laid(stroke, bar, tempo, strokes);
    }
  }
  const far = strokes.filter(({ home, tick }) => !within(tick - home, HIT_LIMITS.push));
  for (const stroke of far) stroke.tick = stroke.home;
  if (far.length > 0) {
    report.repaired.push(
      `${count(far.length, 'stroke')} that ${far.length === 1 ? 'sounds' : 'sound'} far from where ${far.length === 1 ? 'it is' : 'they are'} written: put where ${far.length === 1 ? 'it is' : 'they are'} written.`,
    );
  }
  strokes.sort((a, b) => a.home - b.home || a.tick - b.tick);
  report.hits = strokes.length;
  const title = score.title || file.replace(/^.*[\\/]/, '').replace(/\.(musicxml|xml|mxl)$/i, '');
  const origin = { file, ppq: PPQ };
  const loom = new Loom(origin, 1);
  for (const part of partsOf(played)) loom.add(part);
  loom.layStrokes(strokes);
  const { patterns, sections, places } = loom.woven(title || 'Imported song');
  reportOn(score, taken, { played, tempos, strokes: strokes.length }, report);
  const song = songWith(
    { id: 'imported', name: title || 'Imported song', bpm: tempos[0].bpm },
    patterns,
  );
  return spreadTempos({ ...song, places, sections, origin }, tempos, fewerTempos(sections, report));
}

function playedBars({ measures }: Score, report: ImportReport): Played[] {
  const played: Played[] = [];
  let start = 0;
  let odd = 0;
  for (const index of playingOrder(measures)) {
    const measure = measures[index];
    const whole = Math.abs(measure.length - barTicks(measure.meter)) <= 1;
    const meter = whole ? measure.meter : (shortMeter(Math.round(measure.length)) ?? measure.meter);
    if (!whole) odd++;
    played.push({ measure, index, start, meter });
    start += barTicks(meter);
    if (start > MAX_QUARTERS * PPQ) break;
  }
  if (odd > 0) {
    report.repaired.push(
      `${odd === 1 ? 'One measure is' : `${odd} measures are`} shorter or longer than the time signature says; counted as long as what is in ${odd === 1 ? 'it' : 'them'}.`,
    );
  }
  if (played.length === MOST_BARS) {
    report.leftOut.push(`What comes after ${MOST_BARS.toLocaleString('en')} bars.`);
  }
  return played;
}

/** The strokes of a measure; of one that is like those before it, theirs. */
function strokesAt({ measures }: ReadPart, index: number): readonly ReadStroke[] {
  for (let at = index; at >= 0;) {
    const measure = measures[at];
    if (!measure) return [];
    if (!measure.like) return measure.strokes;
    at -= measure.like;
  }
  return [];
}

/** Puts a stroke of a measure where it is played, with what belongs to it. */
function laid(
  { way, velocity, at, sounds, graces, roll }: ReadStroke,
  bar: Played,
  tempo: TempoMap,
  strokes: SourceStroke[],
): void {
  const length = barTicks(bar.meter);
  // What is written behind the end of its bar belongs to the last tick of it.
  const home = bar.start + Math.min(Math.round(at), length - 1);
  const tick = Math.max(0, bar.start + sounds);
  const flam = flamOf(graces, { at, sounds, velocity }, tempo.bpmAt(home));
  if (graces.length > 0 && !flam) {
    for (const grace of graces) {
      const soft = bar.start + at + (grace.attack ?? sounds - at - PPQ / 24);
      strokes.push({ way, velocity: grace.velocity, home, tick: Math.max(0, soft) });
    }
  }
  const stroke: SourceStroke = { way, velocity, home, tick, ...(flam && { flam }) };
  if (roll && roll.strokes <= 8) {
    strokes.push({ ...stroke, burst: { strokes: roll.strokes, room: roll.room, slope: 0 } });
    return;
  }
  strokes.push(stroke);
  for (let i = 1; i < (roll?.strokes ?? 1); i++) {
    const later = (roll!.room * i) / roll!.strokes;
    const step = Math.min(Math.round(at + later), length - 1);
    strokes.push({ way, velocity, home: bar.start + step, tick: tick + later });
  }
}

/** Grace notes as a flam or a drag; undefined where they are no such figure. */
function flamOf(
  graces: readonly ReadGrace[],
  { at, sounds, velocity }: { at: Ticks; sounds: Ticks; velocity: number },
  bpm: Bpm,
): Flam | undefined {
  if (graces.length !== 1 && graces.length !== 2) return undefined;
  const strokes = graces.length;
  const usual = strokes === 1 ? TAB_FLAM : TAB_DRAG;
  const [first, second] = graces;
  if (first.attack === undefined) return usual;
  const before = sounds - (at + first.attack);
  const lead = pushInMs(before, bpm);
  const even = !second || Math.abs(sounds - (at + (second.attack ?? Infinity)) - before / 2) < 1e-3;
  const soft = graces.every((one) => one.velocity === first.velocity && one.velocity <= velocity);
  if (!even || !soft || lead < 5 || lead > 120) return undefined;
  return { strokes, lead, softness: 1 - first.velocity / velocity };
}

function temposOf(played: readonly Played[], report: ImportReport): TempoChange[] {
  const byTick = new Map<Ticks, number>([[0, 120]]);
  let bounded = 0;
  for (const { measure, start, meter } of played) {
    for (const { at, bpm } of measure.tempos) {
      const kept = Math.max(MIN_BPM, Math.min(MAX_BPM, bpm));
      if (kept !== bpm) bounded++;
      byTick.set(start + Math.min(Math.round(at), barTicks(meter) - 1), kept);
    }
  }
  if (bounded > 0) {
    report.repaired.push(
      `Tempos outside ${MIN_BPM} to ${MAX_BPM} beats a minute were brought within: ${bounded}.`,
    );
  }
  return [...byTick].sort(([a], [b]) => a - b).map(([at, bpm]) => ({ at, bpm }));
}

/** Parts from one rehearsal mark to the next, with stretches of one meter. */
function partsOf(played: readonly Played[]): Part[] {
  const parts: Part[] = [];
  for (const { measure, start, meter } of played) {
    const end = start + barTicks(meter);
    const part = parts.at(-1);
    const before = part?.stretches.at(-1);
    if (!part || measure.section !== undefined) {
      const name = measure.section === undefined ? {} : { name: measure.section };
      parts.push({ ...name, stretches: [{ start, end, bars: 1, meter }] });
    } else if (before && sameMeter(before.meter, meter)) {
      before.end = end;
      before.bars++;
    } else part.stretches.push({ start, end, bars: 1, meter });
  }
  return parts;
}

function reportOn(
  { parts }: Score,
  taken: readonly ReadPart[],
  got: { played: readonly Played[]; tempos: readonly TempoChange[]; strokes: number },
  report: ImportReport,
): void {
  const meters = [...new Set(got.played.map(({ meter }) => meterName(meter)))].join(', ');
  report.understood.push(
    `${count(got.strokes, 'hit')} in ${count(got.played.length, 'bar')} of ${meters}.`,
    got.tempos.length === 1
      ? `Tempo ${Number(got.tempos[0].bpm.toFixed(2))}.`
      : `${count(got.tempos.length, 'tempo')}, from ${Number(got.tempos[0].bpm.toFixed(2))} on.`,
  );
  for (const { head, reader } of taken) {
    const { unknown, slashes, jumps } = reader.found;
    const what = head.name ? `“${head.name}”` : 'The drums';
    for (const [place, n] of unknown) {
      report.leftOut.push(`${what}: ${count(n, 'note')} of no known drum (${place}).`);
    }
    if (slashes > 0) {
      const marks = slashes === 1 ? '1 slash' : `${slashes.toLocaleString('en')} slashes`;
      report.leftOut.push(`${what}: ${marks}, which say no drum.`);
    }
    if (jumps) {
      report.leftOut.push(
        `${what}: jumps (da capo, dal segno, coda); it was read from top to bottom.`,
      );
    }
  }
  parts.forEach((part) => {
    if (!taken.includes(part) && part.reader.found.notes > 0) {
      const { name } = part.head;
      report.leftOut.push(
        `The part ${name ? `“${name}”` : 'without a name'}: ${count(part.reader.found.notes, 'note')} not chosen.`,
      );
    }
  });
}
