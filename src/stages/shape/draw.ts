import { barTicks, pulseTicks, type Ticks } from '@/core/time';
import type { Hit, Pattern, Strand } from '@/core';
import { articulationOf, GHOST_BELOW, type Kit } from '@/core/model';
import { LANES, strokesOf, swingOf, type Lane, type LaneId } from '@/core/pattern';
import { HEAD_SHAPES } from '@/look/Notehead';
import type { Tokens } from '@/look/tokens';
import { accentLine, laneY, STEM_FOOT, type Geometry, type RowPlace } from './geometry';
import { drawHead, shape, type Ink } from './heads';

export interface Sheet {
  kit: Kit;
  pattern: Pattern;
  /** The pattern before a live preview: what it changes is drawn under it, pale. */
  before?: Pattern;
  geometry: Geometry;
  selected: ReadonlySet<string>;
  /** Strands that are not heard now. */
  silent: ReadonlySet<string>;
  /** Hits that share their rows with those of the one track that is worked on. */
  elsewhere: ReadonlySet<string>;
  lane?: LaneId;
  tokens: Tokens;
  /** Device pixels a pixel of the sheet. */
  density: number;
}

/** Signs reach this far beyond where their hit stands. */
const SIGN_REACH = 60;

/** Draws the part of the sheet from pixel `left` to `right`. The ink stands at the sheet's 0, 0. */
export function drawSheet(ink: Ink, sheet: Sheet, left: number, right: number): void {
  const { pattern, geometry, tokens } = sheet;
  ink.fillStyle = tokens.ground;
  ink.fillRect(left, 0, right - left, geometry.height);
  for (const row of geometry.rows) {
    const strand = pattern.strands.find(({ piece }) => piece === row.piece);
    if (!strand) continue;
    drawLines(ink, sheet, row, left, right);
    const before = sheet.before?.strands.find(({ piece }) => piece === row.piece);
    if (before && before.hits !== strand.hits)
      drawChanged(ink, sheet, before, strand, row, left, right);
    eachInView(sheet, strand, row, left, right, (hit, offset) =>
      drawHit(ink, sheet, row, hit, offset),
    );
    if (row.lane > 0 && sheet.lane) drawLane(ink, sheet, strand, row, left, right);
  }
}

/** Calls for each hit that may be seen, once for each time its strand comes round. */
function eachInView(
  { geometry, pattern }: Sheet,
  strand: Strand,
  row: RowPlace,
  left: number,
  right: number,
  draw: (hit: Hit, offset: Ticks) => void,
): void {
  const from = geometry.tick(left - SIGN_REACH);
  const to = geometry.tick(right + SIGN_REACH);
  const looped = Number.isFinite(row.loop);
  const first = looped ? Math.max(0, Math.floor(from / row.loop) - 1) : 0;
  for (let round = first; round === 0 || round * row.loop < Math.min(to, pattern.length); round++) {
    const offset = looped ? round * row.loop : 0;
    // Pushes are bounded to a few bars; hits are in order of their steps.
    let i = firstFrom(strand.hits, from - offset - pattern.step * 2);
    for (; i < strand.hits.length; i++) {
      const hit = strand.hits[i];
      if (hit.at + offset > to + pattern.step * 2 || hit.at + offset >= pattern.length) break;
      draw(hit, offset);
    }
    if (!looped) break;
  }
}

function firstFrom(hits: readonly Hit[], at: Ticks): number {
  let low = 0;
  let high = hits.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (hits[middle].at < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

function drawLines(
  ink: Ink,
  { pattern, geometry, tokens }: Sheet,
  row: RowPlace,
  left: number,
  right: number,
) {
  const { length, meter } = pattern;
  const [bar, beat] = [barTicks(meter), pulseTicks(meter)];
  const end = Math.min(right, geometry.x(length));
  const height = row.height + row.lane;
  ink.fillStyle = tokens.paper;
  ink.fillRect(left, row.top, end - left, height - 1);
  const from = Math.max(0, geometry.tick(left));
  const to = Math.min(length, geometry.tick(right));
  ink.fillStyle = tokens.paperShade;
  for (let at = Math.floor(from / (2 * beat)) * 2 * beat + beat; at < to; at += 2 * beat) {
    const [x, x2] = [geometry.x(at), geometry.x(Math.min(length, at + beat))];
    ink.fillRect(x, row.top, x2 - x, height - 1);
  }
  const lines = (by: Ticks, colour: string, width: number, wanted: (at: Ticks) => boolean) => {
    if (by * geometry.scale < 4) return;
    ink.fillStyle = colour;
    const count = Math.floor(to / by + 1e-6);
    for (let n = Math.max(0, Math.ceil(from / by) - 1); n <= count; n++) {
      const at = n * by;
      if (wanted(at)) ink.fillRect(geometry.x(at) - width / 2, row.top, width, height - 1);
    }
  };
  lines(row.step, tokens.fineLine, 1, (at) => at % beat !== 0);
  lines(beat, tokens.line, 1, (at) => at % bar !== 0);
  lines(bar, tokens.softInk, 1.5, () => true);
  if (length % bar !== 0) lines(length, tokens.softInk, 1.5, (at) => at > 0);
  ink.fillStyle = tokens.line;
  ink.fillRect(left, row.top + height - 1, end - left, 1);
  if (row.lane > 0) ink.fillRect(left, row.top + row.height - 1, end - left, 1);
  if (!row.folded) {
    ink.strokeStyle = tokens.line;
    ink.lineWidth = 1;
    ink.setLineDash([2, 4]);
    ink.lineDashOffset = left;
    ink.beginPath();
    const accent = Math.round(row.top + accentLine(geometry, row)) + 0.5;
    ink.moveTo(left, accent);
    ink.lineTo(end, accent);
    ink.stroke();
    ink.setLineDash([]);
  }
  if (!Number.isFinite(row.loop)) return;
  // The join: where the strand begins again, a double line with a hook back.
  ink.fillStyle = tokens.dyes[pattern.dye];
  for (let at = row.loop; at < to; at += row.loop) {
    if (at < from - 10 / geometry.scale) continue;
    const x = geometry.x(at) - geometry.stepWidth(row) * 0.3;
    ink.fillRect(x - 3, row.top, 1, row.height - 1);
    ink.fillRect(x, row.top, 2, row.height - 1);
    ink.beginPath();
    ink.moveTo(x - 4, row.top + 2);
    ink.lineTo(x - 10, row.top + 6);
    ink.lineTo(x - 4, row.top + 10);
    ink.fill();
  }
}

const sets = new WeakMap<readonly Hit[], ReadonlySet<Hit>>();
function setOf(hits: readonly Hit[]): ReadonlySet<Hit> {
  let made = sets.get(hits);
  if (!made) sets.set(hits, (made = new Set(hits)));
  return made;
}

/** Where chosen hits were before the preview: pale stems. */
function drawChanged(
  ink: Ink,
  sheet: Sheet,
  before: Strand,
  after: Strand,
  row: RowPlace,
  left: number,
  right: number,
) {
  const { geometry, tokens, pattern } = sheet;
  const now = setOf(after.hits);
  ink.fillStyle = tokens.softInk;
  ink.globalAlpha = 0.45;
  eachInView(sheet, before, row, left, right, (hit, offset) => {
    if (now.has(hit)) return;
    const x = geometry.x(offset + hit.at + hit.push + swingOf(pattern, hit.at + offset));
    const foot = row.top + row.height - STEM_FOOT;
    const head = foot - geometry.stem(hit.velocity, row);
    ink.fillRect(x - 0.5, head, 1, foot - head);
    ink.fillRect(x - 4, head - 0.5, 8, 1);
  });
  ink.globalAlpha = 1;
}

function drawHit(ink: Ink, sheet: Sheet, row: RowPlace, hit: Hit, offset: Ticks): void {
  const { geometry, pattern, selected, silent, elsewhere, tokens, density } = sheet;
  const chosen = selected.has(hit.id);
  const ghost = hit.velocity < GHOST_BELOW;
  const muted = silent.has(row.piece);
  const home = geometry.x(hit.at + offset);
  const x = geometry.x(
    offset + hit.at + hit.push + swingOf(pattern, (hit.at + offset) % pattern.length),
  );
  const foot = row.top + row.height - STEM_FOOT;
  const head = foot - geometry.stem(hit.velocity, row);
  const colour = chosen ? tokens.accent : tokens.dyes[pattern.dye];
  const wide = geometry.stepWidth(row);
  ink.globalAlpha =
    (offset > 0 ? 0.5 : 1) *
    (ghost ? 0.78 : 1) *
    (muted ? 0.6 : 1) *
    (elsewhere.has(hit.id) ? 0.3 : 1);
  ink.strokeStyle = colour;
  ink.fillStyle = colour;
  if (Math.abs(x - home) > 1) {
    ink.fillRect(Math.min(home, x), foot - 0.75, Math.abs(x - home), 1.5);
    ink.fillRect(home - 0.75, foot - 4, 1.5, 4);
  }
  const thick = ghost || wide < 6 ? 1.4 : 2.2;
  if (muted) ink.setLineDash([2, 2]);
  ink.lineWidth = thick;
  if (hit.burst) drawBurst(ink, sheet, row, hit, x);
  else if (muted) line(ink, x, foot, x, head);
  else ink.fillRect(x - thick / 2, head, thick, foot - head);
  ink.setLineDash([]);
  if (chosen) ink.fillRect(x - 5, foot + 1, 10, 2);
  if (wide >= 5 && !row.folded) {
    const size = wide < 9 ? 0.7 : 1;
    const { head: sign } = articulationOf(row.piece, hit.articulation, sheet.kit);
    drawHead(ink, sign, hit, { outline: muted, size, colour, density }, x, head);
    if (hit.flam) drawFlam(ink, hit, x, foot, head);
    if (hit.swell) drawSwell(ink, sheet, hit, x, head);
    if (hit.choke) drawChoke(ink, sheet, hit, x, head);
    if (hit.reverse) {
      ink.lineWidth = 1.3;
      stamp(ink, 'stroke', 'M-8 -3L-12 0L-8 3M-12 0L-6 0', x, head);
    }
    if (hit.cycle) drawCycle(ink, hit, x, foot, tokens);
  }
  ink.globalAlpha = 1;
}

function line(ink: Ink, x1: number, y1: number, x2: number, y2: number): void {
  ink.beginPath();
  ink.moveTo(x1, y1);
  ink.lineTo(x2, y2);
  ink.stroke();
}

/** Draws a path around a place. */
function stamp(
  ink: Ink,
  how: 'fill' | 'stroke',
  path: string,
  x: number,
  y: number,
  size = 1,
): void {
  ink.save();
  ink.translate(x, y);
  if (size !== 1) ink.scale(size, size);
  ink[how](shape(path));
  ink.restore();
}

/** Grace notes before the head, small and with a stroke through their stems. */
function drawFlam(ink: Ink, { flam }: Hit, x: number, foot: number, head: number): void {
  const { strokes, softness } = flam!;
  const top = foot - (foot - head) * (1 - softness);
  for (let i = strokes; i >= 1; i--) {
    const left = x - 3 - i * 7;
    ink.lineWidth = 1;
    line(ink, left + 2, Math.min(top + 8, foot), left + 2, top);
    stamp(ink, 'fill', HEAD_SHAPES.dot[0].fill!, left, top, 0.55);
  }
  ink.lineWidth = 1.1;
  line(ink, x - 8 - strokes * 5, top + 7, x - 3, top - 4);
}

/** The strokes of a burst where they fall, under one beam. */
function drawBurst(ink: Ink, sheet: Sheet, row: RowPlace, hit: Hit, x: number): void {
  const { geometry } = sheet;
  const { slope } = hit.burst!;
  const foot = row.top + row.height - STEM_FOOT;
  // Grace strokes before it are drawn by themselves.
  const strokes = strokesOf({ ...hit, flam: undefined }, 0);
  const tops = strokes.map(({ by, velocity }): [number, number] => [
    x + by * geometry.scale,
    foot - geometry.stem(velocity, row),
  ]);
  tops.forEach(([left, top], i) => {
    ink.lineWidth = i === 0 ? 2.2 : 1.3;
    line(ink, left, foot, left, top);
  });
  const beam = Math.min(...tops.map(([, top]) => top)) - 3;
  ink.lineWidth = 2.4;
  line(
    ink,
    tops[0][0],
    beam + (slope > 0 ? 5 : 0),
    tops[tops.length - 1][0],
    beam + (slope < 0 ? 5 : 0),
  );
}

/** A line from the head to where the sound is stopped, with a bar across its end. */
/** A wedge that opens up to the notehead, as what grows is written. */
function drawSwell(ink: Ink, { geometry }: Sheet, { swell }: Hit, x: number, head: number): void {
  const from = Math.min(x - 14, Math.max(x - swell! * geometry.scale, x - 40));
  ink.lineWidth = 1.2;
  line(ink, from, head, x - 7, head - 4);
  line(ink, from, head, x - 7, head + 4);
}

function drawChoke(ink: Ink, { geometry }: Sheet, { choke }: Hit, x: number, head: number): void {
  const end = Math.max(x + 9, x + choke! * geometry.scale);
  ink.lineWidth = 1.2;
  line(ink, x + 6, head, end, head);
  ink.lineWidth = 2;
  line(ink, end, head - 5, end, head + 5);
}

/** A ring with a sector for each pass: those it sounds on are full. */
function drawCycle(ink: Ink, { cycle }: Hit, x: number, foot: number, { paper }: Tokens): void {
  const { of, on } = cycle!;
  const [cx, cy, radius] = [x + 8, foot - 8, 5.5];
  const turn = (2 * Math.PI) / of;
  const colour = ink.fillStyle;
  ink.fillStyle = paper;
  ink.beginPath();
  ink.arc(cx, cy, radius + 1, 0, 2 * Math.PI);
  ink.fill();
  ink.fillStyle = colour;
  for (const pass of on) {
    const start = -Math.PI / 2 + (pass - 1) * turn;
    ink.beginPath();
    ink.moveTo(cx, cy);
    ink.arc(cx, cy, radius, start, start + turn);
    ink.fill();
  }
  ink.lineWidth = 1.2;
  ink.beginPath();
  ink.arc(cx, cy, radius, 0, 2 * Math.PI);
  ink.stroke();
}

/** Share of a lane's range that a value is at, 0 to 1. */
export function shareOf({ limits: [low, high] }: Lane, value: number): number {
  return (Math.max(low, Math.min(high, value)) - low) / (high - low);
}

function drawLane(
  ink: Ink,
  sheet: Sheet,
  strand: Strand,
  row: RowPlace,
  left: number,
  right: number,
) {
  const { geometry, pattern, selected, tokens } = sheet;
  const lane: Lane = LANES[sheet.lane!];
  const rest = laneY(row, shareOf(lane, lane.rest));
  ink.fillStyle = tokens.line;
  ink.fillRect(left, Math.round(rest), Math.min(right, geometry.x(pattern.length)) - left, 1);
  eachInView(sheet, strand, row, left, right, (hit, offset) => {
    const x = geometry.x(hit.at + offset);
    const y = laneY(row, shareOf(lane, lane.get(hit)));
    ink.globalAlpha = offset > 0 ? 0.5 : 1;
    ink.fillStyle = selected.has(hit.id) ? tokens.accent : tokens.dyes[pattern.dye];
    ink.fillRect(x - 2, Math.min(y, rest), 4, Math.abs(rest - y));
    ink.beginPath();
    ink.arc(x, y, 4, 0, 2 * Math.PI);
    ink.fill();
    ink.globalAlpha = 1;
  });
}
