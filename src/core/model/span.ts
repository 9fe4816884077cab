import type { Ticks } from '../time';
import type { PieceId } from './kit';

export const SPAN_ROLES = ['groove', 'fill', 'change'] as const;
/** What a span is for: what a section plays, a fill, or a change laid over it. */
export type SpanRole = (typeof SPAN_ROLES)[number];

export const ANCHORS = ['start', 'end', 'whole'] as const;
/**
 * What a span holds on to when its section gets longer or shorter: the section's start, its end, or
 * both. A span that has no room for now is silent and stays.
 */
export type Anchor = (typeof ANCHORS)[number];

/** A stretch of a section that plays a pattern, or some pieces of it, over and over. */
export interface Span {
  /** Unique among the spans of its section, or of the overlay of its place. */
  id: string;
  role: SpanRole;
  anchor: Anchor;
  pieces: 'all' | PieceId[];
  /**
   * Where it begins, and where it ends (not included). Anchored to the start, both are ticks after the
   * section's start; to the end, ticks after its end, so that they are negative or 0; to the whole,
   * `from` is counted from the start and `to` from the end.
   */
  from: Ticks;
  to: Ticks;
  pattern: string;
  /** Where in the pattern the span starts. */
  offset: Ticks;
  /** `replace` silences the same pieces in what lies below; `add` does not. */
  mode: 'replace' | 'add';
}

/** Where a span lies in a section of some length. */
export interface SpanPlace {
  /** Ticks from the start of the section. */
  from: Ticks;
  to: Ticks;
  /** Where in its pattern the span starts there: later when its beginning has no room. */
  offset: Ticks;
}

/** @returns undefined when the section has no room for any of it */
export function placeOfSpan(span: Span, length: Ticks): SpanPlace | undefined {
  const begins = span.anchor === 'end' ? length + span.from : span.from;
  const ends = span.anchor === 'start' ? span.to : length + span.to;
  const from = Math.max(0, begins);
  const to = Math.min(length, ends);
  return from < to ? { from, to, offset: span.offset + (from - begins) } : undefined;
}

/**
 * Says a stretch of a section of some length so that it holds on to what it touches: the whole, the
 * end, or else the start.
 */
export function anchored(
  from: Ticks,
  to: Ticks,
  length: Ticks,
): Pick<Span, 'anchor' | 'from' | 'to'> {
  if (to < length) return { anchor: 'start', from, to };
  return from <= 0
    ? { anchor: 'whole', from: 0, to: 0 }
    : { anchor: 'end', from: from - length, to: 0 };
}
