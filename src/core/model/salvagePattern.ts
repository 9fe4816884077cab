import { barTicks, COMMON_TIME, DEFAULT_STEP, type Ticks } from '../time';
import { Finds, isRecord, isText, withParts } from './finds';
import { salvageHits } from './salvageHits';
import { salvageDrafted } from './draft';
import { byStaffOrder, findPiece, type Kit } from './kit';
import { MAX_BARS, MAX_TICKS, MIN_PATTERN, MIN_STEP, MOST, SWING_LIMITS, within } from './limits';
import { DYE_COUNT, PATTERN_KINDS, TURNS, type Pattern, type Strand } from './pattern';
import { isOptional, isMark, isMeterValue, isOneOf, isOrigin, isGrooveRef } from './soundValues';

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
  keep('local', isMark(raw.local), 'It is a change of one place, or it is not.');
  if (raw.drafted !== undefined) {
    const drafted = salvageDrafted(raw.drafted, where, finds);
    if (drafted) parts.drafted = drafted;
    else spoilt.push('drafted');
  }
  if (raw.joined !== undefined) {
    if (depth >= DEEPEST) keep('joined', false, 'It is joined of more than can be taken apart.');
    else {
      parts.joined = finds.list(raw.joined, `${where}/joined`, MOST.spans, (item, at) =>
        salvagePattern(item, at, kit, finds, depth + 1),
      );
    }
  }
  return withParts(raw, parts, spoilt);
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
  return withParts(raw, parts, spoilt);
}

function inStaffOrder(strands: Strand[], where: string, kit: Kit, finds: Finds): Strand[] {
  const sorted = strands.every(
    ({ piece }, i) => i === 0 || byStaffOrder(strands[i - 1].piece, piece, kit) < 0,
  );
  if (finds.expect(sorted, where, 'Strands must be in staff order, one a piece.')) return strands;
  return [...strands].sort((a, b) => byStaffOrder(a.piece, b.piece, kit));
}
