import {
  barTicks,
  COMMON_TIME,
  DEFAULT_STEP,
  isMeter,
  MAX_BPM,
  MIN_BPM,
  ticksOfBars,
  type Meter,
  type MeterChange,
  type TempoChange,
  type Ticks,
} from '../time';
import { Finds, isId, isRecord, isText, withParts, type Problem } from './finds';
import { salvageHits } from './salvageHits';
import {
  salvageKit,
  salvageLayouts,
  salvageMixes,
  salvageNoteMap,
  salvageSectionMix,
} from './salvageSound';
import { byStaffOrder, findPiece, type Kit } from './kit';
import { MAX_BARS, MAX_TICKS, MIN_PATTERN, MIN_STEP, MOST, SWING_LIMITS, within } from './limits';
import { songWith } from './newSong';
import {
  DYE_COUNT,
  PATTERN_KINDS,
  TURNS,
  type Feel,
  type FeelPoint,
  type Pattern,
  type Strand,
} from './pattern';
import {
  SECTION_KINDS,
  SONG_FORMAT,
  type Guide,
  type GuideNote,
  type Offcut,
  type Place,
  type Section,
  type Song,
} from './song';
import { ANCHORS, placeOfSpan, SPAN_ROLES, type Span } from './span';

/** What is sound of a song that was stored or sent, and what is not. */
export interface Salvaged {
  /** Absent when it is no song at all. */
  song?: Song;
  problems: Problem[];
}

/**
 * Keeps what is sound of a value that should be a song of the present form. A song in which all is
 * well comes back as the very same value, with no problems. Never throws, whatever it is given.
 * @param trusted a song in which all is well: what the value has in common with it is not looked at
 */
export function salvage(value: unknown, trusted?: Song): Salvaged {
  const finds = new Finds(trusted && partsOf(trusted));
  if (!isRecord(value)) {
    finds.say('', 'This is no song.');
    return { problems: finds.problems };
  }
  finds.expect(value.format === SONG_FORMAT, 'format', `The form must be ${SONG_FORMAT}.`);
  const raw = value as unknown as Song;
  const usual = songWith({ id: 'salvaged', name: 'Salvaged song' });
  const kit = salvageKit(raw.kit, finds);
  const patterns = finds.list(
    raw.patterns,
    'patterns',
    MOST.patterns,
    (item, where) => salvagePattern(item, where, kit, finds),
    ({ id }) => id,
  );
  const patternIds = new Set(patterns.map(({ id }) => id));
  const sections = finds.list(
    raw.sections,
    'sections',
    MOST.sections,
    (item, where) => salvageSection(item, where, patternIds, kit, finds),
    ({ id }) => id,
  );
  const sectionIds = new Set(sections.map(({ id }) => id));
  const places = heardPlaces(
    finds.list(
      raw.places,
      'places',
      MOST.places,
      (item, where) => salvagePlace(item, where, sectionIds, patternIds, kit, finds),
      ({ id }) => id,
    ),
    sections,
    patterns,
    finds,
  );
  const placeIds = new Set(places.map(({ id }) => id));
  const layouts = salvageLayouts(raw.layouts, finds);
  const layoutIds = new Set(layouts.map(({ id }) => id));
  const parts: Song = {
    ...raw,
    format: SONG_FORMAT,
    id: finds.value(raw.id, isId, usual.id, 'id', 'The song has no id.'),
    name: finds.value(raw.name, isText, usual.name, 'name', 'The song has no name.'),
    bpm: finds.value(raw.bpm, isBpm, usual.bpm, 'bpm', TEMPO_RANGE),
    kit,
    noteMap: salvageNoteMap(raw.noteMap, finds),
    layouts,
    layout: finds.value(
      raw.layout,
      (id) => layoutIds.has(id as string),
      layouts[0].id,
      'layout',
      'The layout in use is not there.',
    ),
    mixes: salvageMixes(raw.mixes, layoutIds, finds),
    patterns,
    sections,
    places,
    feels: finds.list(
      raw.feels,
      'feels',
      MOST.list,
      (item, where) => salvageFeel(item, where, kit, finds),
      ({ id }) => id,
    ),
    guides: finds.list(
      raw.guides,
      'guides',
      MOST.spans,
      (item, where) => salvageGuide(item, where, placeIds, finds),
      ({ id }) => id,
    ),
    offcuts: finds.list(
      raw.offcuts,
      'offcuts',
      MOST.list,
      (item, where) => salvageOffcut(item, where, kit, finds),
      ({ id }) => id,
    ),
  };
  if (!isOrigin(raw.origin)) {
    finds.say('origin', 'Where the song was read from is not said as it must be.');
    delete parts.origin;
  }
  return { song: withParts(raw, parts), problems: finds.problems };
}

/** The parts of a song that need not be looked at again. */
function partsOf(song: Song): Set<unknown> {
  return new Set<unknown>([
    ...song.patterns,
    ...song.patterns.flatMap(({ strands }) => strands),
    ...song.sections,
    ...song.places,
    ...song.guides,
    ...song.feels,
    ...song.offcuts,
    song.kit,
    song.noteMap,
    song.layouts,
    song.mixes,
  ]);
}

const TEMPO_RANGE = `A tempo must be ${MIN_BPM} to ${MAX_BPM} beats a minute.`;
const isBpm = (value: unknown) => within(value, [MIN_BPM, MAX_BPM]);
const isTick = (value: unknown): value is Ticks => within(value, [0, MAX_TICKS]);
const isOptional = (value: unknown, is: (value: unknown) => boolean) =>
  value === undefined || is(value);
const isMark = (value: unknown) => value === undefined || value === true;
const isMeterValue = (value: unknown): value is Meter =>
  isRecord(value) && isMeter(value as unknown as Meter);
const isOneOf =
  (list: readonly unknown[]) =>
  (value: unknown): boolean =>
    list.includes(value);

function isOrigin(value: unknown): boolean {
  if (value === undefined) return true;
  return isRecord(value) && isText(value.file) && within(value.ppq, [1, 32_767]);
}

function isGrooveRef(value: unknown): boolean {
  if (value === undefined) return true;
  return isRecord(value) && isText(value.id) && isText(value.name) && isText(value.family);
}

/** Joined patterns remember what they were joined from, and those theirs; so deep and no deeper. */
const DEEPEST = 6;

/** @returns undefined when nothing can be kept */
export function salvagePattern(
  value: unknown,
  where: string,
  kit: Kit,
  finds: Finds,
  depth = 0,
): Pattern | undefined {
  if (finds.trusts(value)) return value as Pattern;
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Pattern;
  const meter = finds.value(
    raw.meter,
    isMeterValue,
    COMMON_TIME,
    where,
    'Its time signature cannot be counted.',
  );
  const longest = MAX_BARS * barTicks(meter);
  const length = finds.value(
    raw.length,
    (ticks) => within(ticks, [MIN_PATTERN, longest]),
    Math.min(longest, Math.max(MIN_PATTERN, Number(raw.length) || barTicks(meter))),
    where,
    `It must last from a 64th note to ${MAX_BARS} bars.`,
  );
  const ids = new Set<string>();
  const strands = inStaffOrder(
    finds.list(
      raw.strands,
      where,
      MOST.spans,
      (item) => salvageStrand(item, where, { length, ids, kit }, finds),
      ({ piece }) => piece,
    ),
    where,
    kit,
    finds,
  );
  const swing = raw.swing as unknown;
  const parts: Pattern = {
    ...raw,
    name: finds.value(raw.name, isText, 'Pattern', where, 'It has no name.'),
    kind: finds.value(
      raw.kind,
      isOneOf(PATTERN_KINDS),
      'groove' as const,
      where,
      'Its kind is unknown.',
    ),
    meter,
    length,
    step: finds.value(
      raw.step,
      (ticks) => within(ticks, [MIN_STEP, MAX_TICKS]),
      DEFAULT_STEP,
      where,
      'It has no step rate.',
    ),
    strands,
    dye: finds.value(
      raw.dye,
      (dye) => Number.isInteger(dye) && within(dye, [0, DYE_COUNT - 1]),
      0,
      where,
      'Its dye is unknown.',
    ),
  };
  const spoilt: (keyof Pattern)[] = [];
  const keep = (part: keyof Pattern, holds: boolean, what: string) => {
    if (!finds.expect(holds, where, what)) spoilt.push(part);
  };
  keep(
    'swing',
    isOptional(
      swing,
      (s) =>
        isRecord(s) && within(s.percent, SWING_LIMITS) && within(s.unit, [MIN_STEP, MAX_TICKS]),
    ),
    'Its swing must be 50 to 75 %.',
  );
  keep('turns', isOptional(raw.turns, isTurns), 'Its turns are in bars it does not have.');
  keep('origin', isOrigin(raw.origin), 'Where it was read from is not said as it must be.');
  keep('groove', isGrooveRef(raw.groove), 'The groove it was kept from is not said as it must be.');
  keep('notes', isOptional(raw.notes, isText), 'Its notes are no text.');
  keep(
    'stars',
    isOptional(raw.stars, (n) => Number.isInteger(n) && within(n, [1, 5])),
    'It can have one to five stars.',
  );
  keep(
    'tags',
    isOptional(raw.tags, (t) => Array.isArray(t) && t.length <= MOST.spans && t.every(isText)),
    'Its tags are no list of words.',
  );
  keep('locked', isMark(raw.locked), 'It is locked, or it is not.');
  if (raw.joined !== undefined) {
    if (depth >= DEEPEST) keep('joined', false, 'It is joined of more than can be taken apart.');
    else {
      parts.joined = finds.list(raw.joined, `${where}/joined`, MOST.spans, (item, at) =>
        salvagePattern(item, at, kit, finds, depth + 1),
      );
    }
  }
  return withParts(raw, finds.without(parts, spoilt));
}

function isTurns(value: unknown): boolean {
  return (
    Array.isArray(value) &&
    value.length <= MOST.spans &&
    value.every(
      (turn) =>
        isRecord(turn) &&
        Number.isInteger(turn.bar) &&
        within(turn.bar, [0, MAX_BARS - 1]) &&
        isOneOf(TURNS)(turn.kind),
    )
  );
}

interface Frame {
  length: Ticks;
  /** Ids of hits that are taken: unique within a pattern. */
  ids: Set<string>;
  kit: Kit;
}

function salvageStrand(
  value: unknown,
  pattern: string,
  { length, ids, kit }: Frame,
  finds: Finds,
): Strand | undefined {
  if (finds.trusts(value)) {
    for (const { id } of (value as Strand).hits) {
      if (ids.has(id)) finds.say(pattern, 'Two hits have the same id.');
      ids.add(id);
    }
    const loop = (value as Strand).loopTicks;
    const last = (value as Strand).hits.at(-1);
    if ((loop ?? 0) < length && (last?.at ?? 0) < length) return value as Strand;
  }
  if (!isRecord(value) || typeof value.piece !== 'string' || !findPiece(value.piece, kit)) {
    finds.say(pattern, 'There is no such kit piece.');
    return undefined;
  }
  const raw = value as unknown as Strand;
  const where = `${pattern}/${raw.piece}`;
  const spoilt: (keyof Strand)[] = [];
  const keep = (part: keyof Strand, holds: boolean, what: string) => {
    if (!finds.expect(holds, where, what)) spoilt.push(part);
  };
  const loop: unknown = raw.loopTicks;
  const loops = within(loop, [MIN_STEP, length]) && loop < length;
  keep('loopTicks', loop === undefined || loops, 'A strand must loop within its pattern.');
  keep(
    'stepTicks',
    isOptional(raw.stepTicks, (step) => within(step, [MIN_STEP, MAX_TICKS])),
    'A strand has no step rate.',
  );
  const end = loops ? (loop as Ticks) : length;
  const hits = salvageHits(raw.hits, { where, end, ids, piece: findPiece(raw.piece, kit)! }, finds);
  const parts: Strand = { ...raw, hits };
  const from: unknown = raw.from;
  if (from !== undefined) {
    if (isRecord(from) && isText(from.name) && Number.isInteger(from.dye)) {
      const room = {
        where: `${where}/from`,
        end: MAX_TICKS,
        ids: new Set<string>(),
        piece: findPiece(raw.piece, kit)!,
      };
      const came = salvageHits(from.hits, room, finds);
      if (came !== from.hits) parts.from = { ...raw.from!, hits: came };
    } else keep('from', false, 'Where a strand was taken from is not said as it must be.');
  }
  return withParts(raw, finds.without(parts, spoilt));
}

function inStaffOrder(strands: Strand[], where: string, kit: Kit, finds: Finds): Strand[] {
  const sorted = strands.every(
    ({ piece }, i) => i === 0 || byStaffOrder(strands[i - 1].piece, piece, kit) < 0,
  );
  if (finds.expect(sorted, where, 'Strands must be in staff order, one a piece.')) return strands;
  return [...strands].sort((a, b) => byStaffOrder(a.piece, b.piece, kit));
}

export function salvageSpans(
  value: unknown,
  where: string,
  patterns: ReadonlySet<string>,
  kit: Kit,
  finds: Finds,
): Span[] {
  return finds.list(
    value,
    where,
    MOST.spans,
    (item, at) => {
      if (!finds.named(item, at)) return undefined;
      const { role, anchor, pieces, from, to, pattern, offset, mode } = item as unknown as Span;
      const begins = anchor === 'end' ? [-MAX_TICKS, 0] : [0, MAX_TICKS];
      const ends = anchor === 'start' ? [0, MAX_TICKS] : [-MAX_TICKS, 0];
      const sound =
        finds.expect(patterns.has(pattern), at, 'A span names a pattern that is not there.') &&
        finds.expect(isOneOf(SPAN_ROLES)(role), at, 'A span has a role that is unknown.') &&
        finds.expect(isOneOf(ANCHORS)(anchor), at, 'A span holds on to nothing that is known.') &&
        finds.expect(
          within(from, begins as [number, number]) &&
            within(to, ends as [number, number]) &&
            (anchor === 'whole' || from < to),
          at,
          'A span must lie within its section.',
        ) &&
        finds.expect(isTick(offset), at, 'A span cannot start before its pattern.') &&
        finds.expect(mode === 'replace' || mode === 'add', at, 'A span must replace or add.') &&
        finds.expect(
          pieces === 'all' ||
            (Array.isArray(pieces) &&
              pieces.length <= MOST.spans &&
              pieces.every((piece) => typeof piece === 'string' && findPiece(piece, kit))),
          at,
          'A span names a kit piece that is not there.',
        );
      return sound ? (item as unknown as Span) : undefined;
    },
    ({ id }) => id,
  );
}

function salvageTempos(value: unknown, where: string, finds: Finds): readonly TempoChange[] {
  let before = -1;
  return finds.list(value, where, MOST.spans, (item) => {
    if (!isRecord(item)) {
      finds.say(where, 'A tempo is not said as it must be.');
      return undefined;
    }
    const { at, bpm, glide } = item;
    const first = before < 0;
    const sound =
      finds.expect(isBpm(bpm), where, TEMPO_RANGE) &&
      finds.expect(
        isTick(at) && at > before && (!first || at === 0),
        where,
        'Tempo changes must be in order, the first at the start.',
      ) &&
      finds.expect(isMark(glide), where, 'A tempo glides, or it does not.');
    if (sound) before = at as Ticks;
    return sound ? (item as unknown as TempoChange) : undefined;
  });
}

function salvageMeters(value: unknown, where: string, finds: Finds): readonly MeterChange[] {
  let before = -1;
  const meters = finds.list(value, where, MOST.spans, (item) => {
    const sound =
      isRecord(item) &&
      isMeterValue(item.meter) &&
      Number.isInteger(item.bar) &&
      within(item.bar, [0, MAX_TICKS]) &&
      item.bar > before &&
      (before >= 0 || item.bar === 0);
    finds.expect(sound, where, 'Its time signature cannot be counted.');
    if (sound) before = item.bar as number;
    return sound ? (item as unknown as MeterChange) : undefined;
  });
  if (meters.length > 0) return meters;
  finds.say(where, 'Its time signature cannot be counted.');
  return [{ bar: 0, meter: COMMON_TIME }];
}

export function salvageSection(
  value: unknown,
  where: string,
  patterns: ReadonlySet<string>,
  kit: Kit,
  finds: Finds,
): Section | undefined {
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Section;
  if (finds.trusts(value) && raw.spans.every(({ pattern }) => patterns.has(pattern))) return raw;
  const meters = salvageMeters(raw.meters, where, finds);
  const spoilt: (keyof Section)[] = [];
  if (!finds.expect(isMark(raw.locked), where, 'It is locked, or it is not.')) {
    spoilt.push('locked');
  }
  const parts: Section = {
    ...raw,
    name: finds.value(raw.name, isText, 'Part', where, 'It has no name.'),
    kind: finds.value(
      raw.kind,
      isOneOf(SECTION_KINDS),
      'part' as const,
      where,
      'Its kind is unknown.',
    ),
    meters,
    bars: finds.value(
      raw.bars,
      (bars) =>
        Number.isInteger(bars) &&
        (bars as number) >= 1 &&
        isTick(ticksOfBars(meters, bars as number)),
      4,
      where,
      'It must last at least one bar, and no longer than can be counted.',
    ),
    tempos: salvageTempos(raw.tempos, where, finds),
    spans: salvageSpans(raw.spans, where, patterns, kit, finds),
    ...(raw.mix !== undefined && { mix: salvageSectionMix(raw.mix, where, finds) }),
  };
  return withParts(raw, finds.without(parts, spoilt));
}

function salvagePlace(
  value: unknown,
  where: string,
  sections: ReadonlySet<string>,
  patterns: ReadonlySet<string>,
  kit: Kit,
  finds: Finds,
): Place | undefined {
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Place;
  const there = sections.has(raw.section);
  if (!finds.expect(there, where, 'It names a section that is not there.')) return undefined;
  if (finds.trusts(value) && raw.overlay.every(({ pattern }) => patterns.has(pattern))) return raw;
  const spoilt: (keyof Place)[] = [];
  for (const mark of ['locked', 'meant'] as const) {
    if (!finds.expect(isMark(raw[mark]), where, `It is ${mark}, or it is not.`)) spoilt.push(mark);
  }
  const parts: Place = {
    ...raw,
    overlay: salvageSpans(raw.overlay, where, patterns, kit, finds),
    ...(raw.tempos !== undefined && { tempos: salvageTempos(raw.tempos, where, finds) }),
  };
  return withParts(raw, finds.without(parts, spoilt));
}

/** The places as far as they can be counted and heard: a song too long for that is cut at its end. */
function heardPlaces(
  places: Place[],
  sections: readonly Section[],
  patterns: readonly Pattern[],
  finds: Finds,
): Place[] {
  const byId = new Map(sections.map((section) => [section.id, section]));
  const hitsOf = new Map(
    patterns.map(({ id, length, strands }) => [
      id,
      { length, strands: strands.map(({ hits, loopTicks }) => [hits.length, loopTicks] as const) },
    ]),
  );
  const strokes = (spans: readonly Span[], room: Ticks) =>
    spans.reduce((sum, span) => {
      const pattern = hitsOf.get(span.pattern);
      const laid = placeOfSpan(span, room);
      if (!pattern || !laid) return sum;
      const { length, strands: list } = pattern;
      return list.reduce(
        (all, [hits, loop]) => all + hits * Math.ceil((laid.to - laid.from) / (loop ?? length) + 1),
        sum,
      );
    }, 0);
  const ofSection = new Map<Section, number>();
  let ticks = 0;
  let sounding = 0;
  for (let i = 0; i < places.length; i++) {
    const section = byId.get(places[i].section)!;
    const room = ticksOfBars(section.meters, section.bars);
    let own = ofSection.get(section);
    if (own === undefined) ofSection.set(section, (own = strokes(section.spans, room)));
    ticks += room;
    sounding += own + strokes(places[i].overlay, room);
    if (ticks > MAX_TICKS || sounding > MOST.sounding) {
      finds.say(`places/${places[i].id}`, 'From here on the song is longer than can be heard.');
      return places.slice(0, i);
    }
  }
  return places;
}

export function salvageGuide(
  value: unknown,
  where: string,
  places: ReadonlySet<string>,
  finds: Finds,
): Guide | undefined {
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Guide;
  if (finds.trusts(value) && (raw.place === undefined || places.has(raw.place))) return raw;
  let before = 0;
  const notes = finds.list(raw.notes, where, MOST.list, (item) => {
    const note = item as GuideNote;
    const sound =
      isRecord(item) &&
      isTick(note.at) &&
      note.at >= before &&
      Number.isInteger(note.note) &&
      within(note.note, [0, 127]) &&
      within(note.length, [Number.MIN_VALUE, MAX_TICKS]) &&
      within(note.velocity, [1, 127]);
    finds.expect(sound, where, 'A guide has notes that cannot be played.');
    if (sound) before = note.at;
    return sound ? note : undefined;
  });
  const parts: Guide = {
    ...raw,
    notes,
    name: finds.value(raw.name, isText, 'guide', where, 'It has no name.'),
    at: finds.value(raw.at, isTick, 0, where, 'A guide starts within the song.'),
    level: finds.value(
      raw.level,
      (level) => within(level, [0, 1]),
      0.7,
      where,
      'The level of a guide must be 0 to 1.',
    ),
  };
  const spoilt: (keyof Guide)[] = [];
  const muted = raw.muted === undefined || typeof raw.muted === 'boolean';
  if (!finds.expect(muted, where, 'A guide is muted, or it is not.')) spoilt.push('muted');
  const there = raw.place === undefined || places.has(raw.place);
  if (!finds.expect(there, where, 'A guide starts in a place that is not there.')) {
    spoilt.push('place');
  }
  return withParts(raw, finds.without(parts, spoilt));
}

export function salvageFeel(
  value: unknown,
  where: string,
  kit: Kit,
  finds: Finds,
): Feel | undefined {
  if (finds.trusts(value)) return value as Feel;
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Feel;
  const sound =
    finds.expect(isText(raw.name), where, 'A feel has no name.') &&
    finds.expect(
      within(raw.length, [MIN_PATTERN, MAX_TICKS]),
      where,
      'A feel says what cannot be played.',
    );
  if (!sound) return undefined;
  const points = finds.list(raw.points, where, MOST.hits, (item) => {
    const point = item as FeelPoint;
    const plays =
      isRecord(item) &&
      typeof point.piece === 'string' &&
      findPiece(point.piece, kit) !== undefined &&
      isTick(point.at) &&
      point.at < raw.length &&
      within(point.push, [-MAX_TICKS, MAX_TICKS]) &&
      within(point.velocity, [1, 127]);
    finds.expect(plays, where, 'A feel says what cannot be played.');
    return plays ? point : undefined;
  });
  return withParts(raw, { points });
}

export function salvageOffcut(
  value: unknown,
  where: string,
  kit: Kit,
  finds: Finds,
): Offcut | undefined {
  if (finds.trusts(value)) return value as Offcut;
  if (!finds.named(value, where)) return undefined;
  const raw = value as unknown as Offcut;
  const why = raw.why === 'passed' || raw.why === 'removed';
  const sound =
    finds.expect(why, where, 'It was passed over, or removed.') &&
    finds.expect(isGrooveRef(raw.groove), where, 'The groove it is of is not said as it must be.');
  if (!sound) return undefined;
  if (raw.pattern === undefined) return raw;
  const pattern = salvagePattern(raw.pattern, where, kit, finds);
  return pattern && withParts(raw, { pattern });
}
