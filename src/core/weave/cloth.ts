import { byStaffOrder, FAMILIES, pieceOf, type PieceId } from '../model/pieces';
import { findStrand, type Pattern, type Song, type Span } from '../model/song';
import { barTicks } from '../time/meter';
import type { Ticks } from '../time/units';
import { laidPlaces } from './sections';
import { timeline, type TimedHit } from './timeline';

/** A stretch of one row that comes from one pattern. */
export interface ClothCell {
  from: Ticks;
  to: Ticks;
  pattern: string;
  dye: number;
  /** Laid over this place only. */
  overlay: boolean;
}

/** One kit piece across the whole song. */
export interface ClothRow {
  piece: PieceId;
  cells: ClothCell[];
  hits: TimedHit[];
}

/** The picture of the whole song: bars across, strands down, each cell with its source pattern. */
export interface Cloth {
  rows: ClothRow[];
  length: Ticks;
}

const clothCache = new WeakMap<Song, Cloth>();

export function cloth(song: Song): Cloth {
  const cached = clothCache.get(song);
  if (cached) return cached;
  const rows = new Map<PieceId, ClothRow>();
  for (const hit of timeline(song)) {
    let row = rows.get(hit.piece);
    if (!row) rows.set(hit.piece, (row = { piece: hit.piece, cells: [], hits: [] }));
    row.hits.push(hit);
  }
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const laid = laidPlaces(song);
  for (const row of rows.values()) row.cells = cellsOf(row.piece, laid, patterns);
  const result = {
    rows: [...rows.values()].sort((a, b) => byStaffOrder(a.piece, b.piece)),
    length: laid.at(-1)?.end ?? 0,
  };
  clothCache.set(song, result);
  return result;
}

/** The cells of one row: spans that have hits of this piece, cut where a higher one replaces it. */
function cellsOf(
  piece: PieceId,
  laid: ReturnType<typeof laidPlaces>,
  patterns: ReadonlyMap<string, Pattern>,
): ClothCell[] {
  return laid.flatMap(({ place, section, start }) => {
    const spans = [...section.spans, ...place.overlay];
    const cells: ClothCell[] = [];
    spans.forEach((span, i) => {
      const applies = span.pieces === 'all' || span.pieces.includes(piece);
      const pattern = patterns.get(span.pattern);
      const has = pattern?.strands.some((s) => s.piece === piece && s.hits.length > 0);
      if (!applies) return;
      if (span.mode === 'replace') cutOut(cells, start + span.from, start + span.to);
      if (!pattern || !has) return;
      const overlay = i >= section.spans.length;
      for (const [from, to] of heardStretches(pattern, piece, span, barTicks(section.meter))) {
        cells.push({
          from: start + from,
          to: start + to,
          pattern: pattern.id,
          dye: pattern.dye,
          overlay,
        });
      }
    });
    return cells.sort((a, b) => a.from - b.from);
  });
}

/** The bars of a span in which the piece is struck at all, joined where they touch. */
function heardStretches(
  pattern: Pattern,
  piece: PieceId,
  span: Span,
  bar: Ticks,
): [from: Ticks, to: Ticks][] {
  const strand = findStrand(pattern, piece);
  const { hits, loopTicks: period = pattern.length } = strand ?? { hits: [] };
  const heard = new Set<number>();
  for (let round = span.from - (span.offset % period); round < span.to; round += period) {
    for (const hit of hits) {
      const at = round + hit.at;
      if (at >= span.from && at < span.to) heard.add(Math.floor(at / bar));
    }
  }
  const stretches: [Ticks, Ticks][] = [];
  for (const index of [...heard].sort((a, b) => a - b)) {
    const from = Math.max(span.from, index * bar);
    const to = Math.min(span.to, (index + 1) * bar);
    const last = stretches.at(-1);
    if (last && last[1] === from) last[1] = to;
    else stretches.push([from, to]);
  }
  return stretches;
}

function cutOut(cells: ClothCell[], from: Ticks, to: Ticks): void {
  for (let i = cells.length - 1; i >= 0; i--) {
    const cell = cells[i];
    if (cell.to <= from || cell.from >= to) continue;
    const left = { ...cell, to: from };
    const right = { ...cell, from: to };
    cells.splice(i, 1, ...[left, right].filter((part) => part.from < part.to));
  }
}

const familyCache = new WeakMap<Song, Cloth>();

/** The same picture with one row a family (cymbals, hats, snare ...), for where there is little room. */
export function clothByFamily(song: Song): Cloth {
  const cached = familyCache.get(song);
  if (cached) return cached;
  const byPiece = cloth(song);
  const rows = FAMILIES.flatMap((family): ClothRow[] => {
    const members = byPiece.rows.filter(({ piece }) => pieceOf(piece).family === family);
    if (members.length === 0) return [];
    return [
      {
        piece: members[0].piece,
        cells: joined(members.flatMap((row) => row.cells)),
        hits: members.flatMap((row) => row.hits),
      },
    ];
  });
  const result = { rows, length: byPiece.length };
  familyCache.set(song, result);
  return result;
}

/** Cells of one pattern that overlap or touch become one. */
function joined(cells: readonly ClothCell[]): ClothCell[] {
  const open = new Map<string, ClothCell>();
  const result: ClothCell[] = [];
  for (const cell of [...cells].sort((a, b) => a.from - b.from)) {
    const last = open.get(cell.pattern);
    if (last && cell.from <= last.to) {
      last.to = Math.max(last.to, cell.to);
      continue;
    }
    const copy = { ...cell };
    open.set(cell.pattern, copy);
    result.push(copy);
  }
  return result;
}
