import { Finds, isRecord, isText, withParts } from './finds';
import { findPiece, type Kit } from './kit';
import { MAX_TICKS, MIN_PATTERN, MOST, within } from './limits';
import { type Feel, type FeelPoint } from './pattern';
import { type Guide, type GuideNote, type Offcut, type Use } from './song';
import { isTick, isGrooveRef } from './soundValues';
import { salvagePattern } from './salvagePattern';
import { salvageSpans } from './salvageSection';

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
    finds.expect(sound, where, 'A reference part has notes that cannot be played.');
    if (sound) before = note.at;
    return sound ? note : undefined;
  });
  const parts: Guide = {
    ...raw,
    notes,
    name: finds.value(raw.name, isText, 'guide', where, 'It has no name.'),
    at: finds.value(raw.at, isTick, 0, where, 'A reference part starts within the song.'),
    level: finds.value(
      raw.level,
      (level) => within(level, [0, 1]),
      0.7,
      where,
      'The level of a reference part must be 0 to 1.',
    ),
  };
  const spoilt: (keyof Guide)[] = [];
  const muted = raw.muted === undefined || typeof raw.muted === 'boolean';
  if (!finds.expect(muted, where, 'A reference part is muted, or it is not.')) spoilt.push('muted');
  const there = raw.place === undefined || places.has(raw.place);
  if (!finds.expect(there, where, 'A reference part starts in a place that is not there.')) {
    spoilt.push('place');
  }
  return withParts(raw, parts, spoilt);
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
    finds.expect(why, where, 'It was rejected, or removed.') &&
    finds.expect(isGrooveRef(raw.groove), where, 'The groove it is of is not said as it must be.');
  if (!sound) return undefined;
  if (raw.pattern === undefined) {
    const { uses, ...rest } = raw;
    return uses === undefined ? raw : rest;
  }
  const pattern = salvagePattern(raw.pattern, where, kit, finds);
  if (!pattern || raw.uses === undefined) return pattern && withParts(raw, { pattern });
  const uses = finds.list(raw.uses, where, MOST.spans, (item): Use | undefined => {
    const { of, id, index, span } = (isRecord(item) ? item : {}) as Partial<Use>;
    const said =
      (of === 'section' || of === 'place') &&
      isText(id) &&
      within(index, [0, MOST.spans]) &&
      Number.isInteger(index);
    if (!finds.expect(said, where, 'What played it is not said as it must be.')) return undefined;
    const known = new Set([pattern.id]);
    return salvageSpans([span], where, known, kit, finds).length === 1 ? (item as Use) : undefined;
  });
  return withParts(raw, { pattern, uses });
}
