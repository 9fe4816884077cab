import { COMMON_TIME, ticksOfBars, type MeterChange, type TempoChange, type Ticks } from '../time';
import { Finds, isId, isRecord, isText, withParts } from './finds';
import { salvageEnergy, someWishes } from './draft';
import { salvageSectionMix } from './salvageSound';
import { findPiece, type Kit } from './kit';
import { MAX_TICKS, MOST, within } from './limits';
import { type Pattern } from './pattern';
import { SECTION_KINDS, type Place, type Section } from './song';
import { ANCHORS, placeOfSpan, SPAN_ROLES, type Span } from './span';
import {
  TEMPO_RANGE,
  isBpm,
  isTick,
  isMark,
  isMeterValue,
  isOneOf,
  isOptional,
} from './soundValues';

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
    ...(raw.wishes !== undefined && { wishes: someWishes(raw.wishes, where, finds) }),
  };
  return withParts(raw, parts, spoilt);
}

export function salvagePlace(
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
  if (
    !finds.expect(isOptional(raw.drafted, isIds), where, 'What was drafted over it is not said.')
  ) {
    spoilt.push('drafted');
  }
  const energy = salvageEnergy(raw.energy, where, finds);
  if (energy) parts.energy = energy;
  else if (raw.energy !== undefined) spoilt.push('energy');
  return withParts(raw, parts, spoilt);
}

const isIds = (value: unknown) =>
  Array.isArray(value) && value.length <= MOST.spans && value.every(isId);

/** The places as far as they can be counted and heard: a song too long for that is cut at its end. */
export function heardPlaces(
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
