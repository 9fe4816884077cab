import { isMeter } from '../time/meter';
import { MAX_BPM, MIN_BPM, type TempoChange } from '../time/tempo';
import { byStaffOrder, findPiece } from './pieces';
import {
  DYE_COUNT,
  PATTERN_KINDS,
  SECTION_KINDS,
  SONG_FORMAT,
  type Guide,
  type Hit,
  type Pattern,
  type Section,
  type Song,
  type Span,
  type Strand,
} from './song';
import { HIT_LIMITS, SWING_LIMITS } from './limits';
import { sectionTicks } from '../weave/sections';

/** Something that must hold of a song and does not. */
export interface Problem {
  /** Where in the song, as a path: `patterns/verse/snare/h12`. */
  where: string;
  /** What is wrong, in one sentence. */
  what: string;
}

/** No stroke is pushed further than this from its step: four bars of 4/4. */
const MAX_PUSH = 4 * 3840;

class Findings {
  readonly problems: Problem[] = [];
  /** Notes a problem unless `holds`. */
  expect(holds: boolean, where: string, what: string): void {
    if (!holds) this.problems.push({ where, what });
  }
  unique(items: readonly { id: string }[], where: string): void {
    const seen = new Set<string>();
    for (const { id } of items) {
      this.expect(typeof id === 'string' && id !== '', where, 'Something here has no id.');
      this.expect(!seen.has(id), `${where}/${id}`, 'Two things here have the same id.');
      seen.add(id);
    }
  }
}

/**
 * What must always hold of a song: ids resolve and are unique, velocities are 1 to 127, hits lie
 * within their pattern and in order, spans within their section, tempo changes in order from 0.
 * Run on every song that is opened, and after every command in tests.
 * @returns an empty list when all is well
 */
export function checkSong(song: Song): Problem[] {
  const found = new Findings();
  found.expect(song.format === SONG_FORMAT, 'format', `The form must be ${SONG_FORMAT}.`);
  found.expect(typeof song.name === 'string', 'name', 'The song has no name.');
  checkTempo(song.tempo, found);
  found.unique(song.patterns, 'patterns');
  found.unique(song.sections, 'sections');
  found.unique(song.places, 'places');
  for (const pattern of song.patterns) checkPattern(pattern, found);
  const patternIds = new Set(song.patterns.map((p) => p.id));
  const sections = new Map(song.sections.map((s) => [s.id, s]));
  for (const section of song.sections) {
    const where = `sections/${section.id}`;
    found.expect(isMeter(section.meter), where, 'Its time signature cannot be counted.');
    found.expect(
      Number.isInteger(section.bars) && section.bars >= 1,
      where,
      'It must last at least one bar.',
    );
    found.expect(SECTION_KINDS.includes(section.kind), where, 'Its kind is unknown.');
    for (const span of section.spans) checkSpan(span, section, patternIds, where, found);
  }
  for (const place of song.places) {
    const where = `places/${place.id}`;
    const section = sections.get(place.section);
    found.expect(section !== undefined, where, 'It names a section that is not there.');
    if (section) {
      for (const span of place.overlay) checkSpan(span, section, patternIds, where, found);
    }
  }
  found.unique(song.feels ?? [], 'feels');
  for (const { id, length, points } of song.feels ?? []) {
    const sound = points.every(({ at, push, velocity }) => {
      return at >= 0 && at < length && Number.isFinite(push) && velocity >= 1 && velocity <= 127;
    });
    found.expect(length > 0 && sound, `feels/${id}`, 'A feel says what cannot be played.');
  }
  found.unique(song.guides ?? [], 'guides');
  for (const guide of song.guides ?? []) checkGuide(guide, found);
  found.unique(song.offcuts ?? [], 'offcuts');
  for (const { id, pattern } of song.offcuts ?? []) {
    if (pattern) checkPattern(pattern, found, `offcuts/${id}`);
  }
  return found.problems;
}

function checkGuide({ id, at, notes, level }: Guide, found: Findings): void {
  const where = `guides/${id}`;
  const sound = notes.every((note, i) => {
    const inOrder = note.at >= (notes[i - 1]?.at ?? 0);
    const pitched = Number.isInteger(note.note) && within(note.note, [0, 127]);
    return inOrder && pitched && note.length > 0 && within(note.velocity, [1, 127]);
  });
  found.expect(sound, where, 'A guide has notes that cannot be played.');
  found.expect(at >= 0 && Number.isFinite(at), where, 'A guide starts within the song.');
  found.expect(within(level, [0, 1]), where, 'The level of a guide must be 0 to 1.');
}

function checkTempo(tempo: readonly TempoChange[], found: Findings): void {
  found.expect(tempo.length > 0 && tempo[0].at === 0, 'tempo', 'The tempo must start at tick 0.');
  tempo.forEach(({ at, bpm }, i) => {
    const where = `tempo/${i}`;
    found.expect(
      bpm >= MIN_BPM && bpm <= MAX_BPM,
      where,
      `A tempo must be ${MIN_BPM} to ${MAX_BPM} beats a minute.`,
    );
    const before = i === 0 ? -1 : tempo[i - 1].at;
    found.expect(Number.isFinite(at) && at > before, where, 'Tempo changes must be in order.');
  });
}

function checkPattern(pattern: Pattern, found: Findings, where = `patterns/${pattern.id}`): void {
  found.expect(isMeter(pattern.meter), where, 'Its time signature cannot be counted.');
  found.expect(pattern.length > 0, where, 'It has no length.');
  found.expect(pattern.step > 0, where, 'It has no step rate.');
  found.expect(PATTERN_KINDS.includes(pattern.kind), where, 'Its kind is unknown.');
  found.expect(
    Number.isInteger(pattern.dye) && pattern.dye >= 0 && pattern.dye < DYE_COUNT,
    where,
    'Its dye is unknown.',
  );
  if (pattern.swing) {
    const { percent, unit } = pattern.swing;
    found.expect(within(percent, SWING_LIMITS) && unit > 0, where, 'Its swing must be 50 to 75 %.');
  }
  const ids = new Set<string>();
  pattern.strands.forEach((strand, i) => {
    const piece = findPiece(strand.piece);
    found.expect(piece !== undefined, `${where}/${strand.piece}`, 'There is no such kit piece.');
    if (!piece) return;
    const above = pattern.strands[i - 1];
    found.expect(
      !above || !findPiece(above.piece) || byStaffOrder(above.piece, strand.piece) < 0,
      `${where}/${strand.piece}`,
      'Strands must be in staff order, one a piece.',
    );
    const { stepTicks = 1, loopTicks } = strand;
    found.expect(stepTicks > 0, `${where}/${strand.piece}`, 'A strand has no step rate.');
    found.expect(
      loopTicks === undefined || (loopTicks > 0 && loopTicks < pattern.length),
      `${where}/${strand.piece}`,
      'A strand must loop within its pattern.',
    );
    const articulations = new Set(piece.articulations.map((a) => a.id));
    checkHits(strand, pattern, articulations, ids, `${where}/${strand.piece}`, found);
  });
}

function checkHits(
  strand: Strand,
  pattern: Pattern,
  articulations: Set<string>,
  ids: Set<string>,
  where: string,
  found: Findings,
): void {
  let before = 0;
  for (const hit of strand.hits) {
    const problem = problemOfHit(hit, strand.loopTicks ?? pattern.length, articulations);
    if (problem) found.problems.push({ where: `${where}/${hit.id}`, what: problem });
    found.expect(!ids.has(hit.id), `${where}/${hit.id}`, 'Two hits have the same id.');
    found.expect(hit.at >= before, `${where}/${hit.id}`, 'Hits must be in order of their steps.');
    ids.add(hit.id);
    before = hit.at;
  }
}

function problemOfHit(
  hit: Hit,
  length: number,
  articulations: ReadonlySet<string>,
): string | undefined {
  if (typeof hit.id !== 'string' || hit.id === '') return 'A hit has no id.';
  if (!(hit.at >= 0 && hit.at < length)) return 'A hit lies outside its pattern.';
  if (!(Math.abs(hit.push) <= MAX_PUSH)) return 'A hit is pushed too far from its step.';
  if (!(Number.isInteger(hit.velocity) && hit.velocity >= 1 && hit.velocity <= 127)) {
    return 'A velocity must be a whole number from 1 to 127.';
  }
  if (!articulations.has(hit.articulation)) return 'The piece has no such articulation.';
  if (hit.length !== undefined && !(hit.length >= 0 && Number.isFinite(hit.length))) {
    return 'A hit cannot last less than nothing.';
  }
  const { channel } = hit;
  if (channel !== undefined && !(Number.isInteger(channel) && channel >= 0 && channel <= 15)) {
    return 'A channel must be 1 to 16.';
  }
  return problemOfFigure(hit);
}

function problemOfFigure({ flam, burst, cycle, choke, ...hit }: Hit): string | undefined {
  if (flam) {
    const { strokes, lead, softness } = flam;
    if (strokes !== 1 && strokes !== 2) return 'A flam has one grace stroke, a drag two.';
    if (!within(lead, HIT_LIMITS.lead)) return 'A flam leads by 5 to 120 ms.';
    if (!within(softness, [0, 1])) return 'The softness of a flam must be 0 to 1.';
  }
  if (burst) {
    const { strokes, room, slope } = burst;
    if (!(Number.isInteger(strokes) && within(strokes, HIT_LIMITS.burst))) {
      return 'A burst has 2 to 8 strokes.';
    }
    if (!(room > 0 && Number.isFinite(room))) return 'A burst needs room.';
    if (!within(slope, [-1, 1])) return 'A burst rises or falls by -1 to 1.';
  }
  if (cycle) {
    const { of, on } = cycle;
    if (!(Number.isInteger(of) && within(of, HIT_LIMITS.cycle)))
      return 'A cycle has 2 to 16 passes.';
    const inOrder = on.every((pass, i) => Number.isInteger(pass) && pass > (on[i - 1] ?? 0));
    if (on.length === 0 || !inOrder || on[on.length - 1] > of) {
      return 'A cycle must name passes it has.';
    }
  }
  if (choke !== undefined && !(choke > 0 && Number.isFinite(choke))) {
    return 'A choke comes after the stroke.';
  }
  if (hit.pan !== undefined && !within(hit.pan, HIT_LIMITS.pan)) return 'A pan must be -1 to 1.';
  if (hit.tune !== undefined && !within(hit.tune, HIT_LIMITS.tune)) {
    return 'A hit is tuned by at most 1200 cents.';
  }
  for (const send of [hit.room, hit.echo]) {
    if (send !== undefined && !within(send, HIT_LIMITS.send)) return 'A send must be 0 to 1.';
  }
  return undefined;
}

function within(value: number, [low, high]: readonly [number, number]): boolean {
  return value >= low && value <= high;
}

function checkSpan(
  span: Span,
  section: Section,
  patternIds: ReadonlySet<string>,
  where: string,
  found: Findings,
): void {
  found.expect(patternIds.has(span.pattern), where, 'A span names a pattern that is not there.');
  found.expect(
    span.from >= 0 && span.from < span.to && span.to <= sectionTicks(section),
    where,
    'A span must lie within its section.',
  );
  found.expect(span.offset >= 0, where, 'A span cannot start before its pattern.');
  found.expect(
    span.mode === 'replace' || span.mode === 'add',
    where,
    'A span must replace or add.',
  );
  found.expect(
    span.pieces === 'all' || span.pieces.every((piece) => findPiece(piece) !== undefined),
    where,
    'A span names a kit piece that is not there.',
  );
}
