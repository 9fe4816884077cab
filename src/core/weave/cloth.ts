import { Latest } from '../memo';
import {
  byStaffOrder,
  byTrackOrder,
  FAMILIES,
  findStrand,
  layoutOf,
  pieceOf,
  type Pattern,
  type PieceId,
  type Song,
  type Strand,
  type TrackLayout,
} from '../model';
import { barAt, barNumber, type Ticks } from '../time';
import { laidPlaces, stackOf, type LaidPlace, type LaidSpan } from './sections';
import { timeline, type TimedHit } from './timeline';

/** A stretch of one row that comes from one pattern. */
export interface ClothCell {
  from: Ticks;
  to: Ticks;
  pattern: string;
  dye: number;
  /** Laid over this place only. */
  overlay: boolean;
  /** Nothing is struck, where something else would be. */
  silent?: true;
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

const cloths = new Latest<Song, Cloth>(3, 1);
const ordered = new Latest<{ woven: Cloth; layout: TrackLayout }, Cloth>(3, 1);

/** The cloth of a song, its rows in the order of the tracks of the layout in use. */
export function cloth(song: Song): Cloth {
  const woven = inStaffOrder(song);
  const layout = layoutOf(song);
  return ordered.of(
    '',
    (known) => known.woven === woven && known.layout === layout,
    { woven, layout },
    () => {
      const order = byTrackOrder(song);
      const rows = [...woven.rows].sort((a, b) => order(a.piece, b.piece));
      return rows.every((row, i) => row === woven.rows[i]) ? woven : { ...woven, rows };
    },
  );
}

/** What takes time, and no layout changes. */
function inStaffOrder(song: Song): Cloth {
  return cloths.of(
    '',
    (known) => looksAs(known, song),
    song,
    () => computeCloth(song),
  );
}

/** Whether two songs have the same cloth: all that decides it is the very same. */
function looksAs(a: Song, b: Song): boolean {
  return timeline(a) === timeline(b) && a.kit === b.kit;
}

function computeCloth(song: Song): Cloth {
  const rows = new Map<PieceId, ClothRow>();
  for (const hit of timeline(song)) {
    let row = rows.get(hit.piece);
    if (!row) rows.set(hit.piece, (row = { piece: hit.piece, cells: [], hits: [] }));
    row.hits.push(hit);
  }
  const patterns = new Map(song.patterns.map((pattern) => [pattern.id, pattern]));
  const laid = laidPlaces(song);
  for (const place of laid) {
    const stack = stackOf(place);
    for (const row of rows.values()) addCells(row, stack, place, patterns);
  }
  return {
    rows: [...rows.values()].sort((a, b) => byStaffOrder(a.piece, b.piece, song.kit)),
    length: laid.at(-1)?.end ?? 0,
  };
}

/** Adds the cells of a place to a row: spans that have hits of its piece, cut where a higher one replaces it. */
function addCells(
  { piece, cells: row }: ClothRow,
  stack: readonly LaidSpan[],
  place: LaidPlace,
  patterns: ReadonlyMap<string, Pattern>,
): void {
  const cells: ClothCell[] = [];
  for (const lies of stack) {
    const { span, overlay, from, to } = lies;
    if (span.pieces !== 'all' && !span.pieces.includes(piece)) continue;
    const { start } = place;
    const gone = span.mode === 'replace' ? cutOut(cells, start + from, start + to) : undefined;
    const pattern = patterns.get(span.pattern);
    const strand = pattern && findStrand(pattern, piece);
    if (!pattern) continue;
    if (!strand || strand.hits.length === 0) {
      if (gone)
        cells.push({ ...gone, pattern: pattern.id, dye: pattern.dye, overlay, silent: true });
      continue;
    }
    for (const [heardFrom, heardTo] of heardStretches(pattern, strand, lies, place)) {
      cells.push({
        from: start + heardFrom,
        to: start + heardTo,
        pattern: pattern.id,
        dye: pattern.dye,
        overlay,
      });
    }
  }
  if (stack.length > 1) cells.sort((a, b) => a.from - b.from);
  row.push(...cells);
}

/** The bars of a span in which a strand is struck at all, joined where they touch. */
function heardStretches(
  pattern: Pattern,
  { hits, loopTicks: period = pattern.length }: Strand,
  { from, to, offset }: LaidSpan,
  { section }: LaidPlace,
): [from: Ticks, to: Ticks][] {
  const stretches: [Ticks, Ticks][] = [];
  let bar = barAt(section.meters, from);
  let next = barNumber(section.meters, bar.bar + 1);
  let struck = -1;
  for (let round = from - (offset % period); round < to; round += period) {
    for (const hit of hits) {
      const at = round + hit.at;
      // The rest of a bar that is struck says nothing new.
      if (at < from || at >= to || (at < next.start && struck === bar.start)) continue;
      if (at >= next.start) {
        bar = barAt(section.meters, at);
        next = barNumber(section.meters, bar.bar + 1);
      }
      struck = bar.start;
      const [begins, ends] = [Math.max(from, bar.start), Math.min(to, next.start)];
      const last = stretches.at(-1);
      if (!last || begins > last[1]) stretches.push([begins, ends]);
      else last[1] = Math.max(last[1], ends);
    }
  }
  return stretches;
}

/** @returns the stretch in which something was cut away; undefined where nothing was */
function cutOut(
  cells: ClothCell[],
  from: Ticks,
  to: Ticks,
): { from: Ticks; to: Ticks } | undefined {
  let gone: { from: Ticks; to: Ticks } | undefined;
  for (let i = cells.length - 1; i >= 0; i--) {
    const cell = cells[i];
    if (cell.to <= from || cell.from >= to) continue;
    const [first, last] = [Math.max(cell.from, from), Math.min(cell.to, to)];
    gone = { from: Math.min(gone?.from ?? first, first), to: Math.max(gone?.to ?? last, last) };
    const left = { ...cell, to: from };
    const right = { ...cell, from: to };
    cells.splice(i, 1, ...[left, right].filter((part) => part.from < part.to));
  }
  return gone;
}

const familyCloths = new Latest<Cloth, Cloth>(3, 1);

/** The same picture with one row a family (cymbals, hats, snare ...), for where there is little room. */
export function clothByFamily(song: Song): Cloth {
  const byPiece = inStaffOrder(song);
  return familyCloths.of(
    '',
    (known) => known === byPiece,
    byPiece,
    () => {
      const rows = FAMILIES.flatMap((family): ClothRow[] => {
        const members = byPiece.rows.filter(
          ({ piece }) => pieceOf(piece, song.kit).family === family,
        );
        if (members.length === 0) return [];
        return [
          {
            piece: members[0].piece,
            cells: joined(members.flatMap((row) => row.cells.filter(({ silent }) => !silent))),
            hits: members.flatMap((row) => row.hits),
          },
        ];
      });
      return { rows, length: byPiece.length };
    },
  );
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
