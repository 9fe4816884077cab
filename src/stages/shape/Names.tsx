import { memo } from 'react';
import { articulationOf, FAMILIES, pieceOf, type PieceId } from '@/core/model';
import type { Pattern } from '@/core';
import { LANES } from '@/core/pattern';
import { PieceSign } from '@/look/Notehead';
import { setCursor } from '@/state/shape/shape';
import { kitOf, useWorkbench } from '@/state/store';
import { strike } from '@/state/transport/transport';
import { toggleMute, toggleSolo, toggleRowView } from '@/state/shape/view';
import type { Geometry, RowPlace } from './geometry';
import styles from './Sheet.module.css';

export const NAMES_WIDTH = 184;

/** The kit pieces, grouped as a drummer has them; press a name to hear it. */
export const Names = memo(function Names({
  pattern,
  geometry,
}: {
  pattern: Pattern;
  geometry: Geometry;
}) {
  const kit = useWorkbench(kitOf);
  return (
    <div className={styles.names} style={{ height: geometry.height }}>
      {FAMILIES.map((family) => {
        const rows = geometry.rows.filter(({ piece }) => pieceOf(piece, kit).family === family);
        if (rows.length < 2) return null;
        const top = Math.min(...rows.map((row) => row.top));
        const end = Math.max(...rows.map((row) => row.top + row.height + row.lane));
        const apart = geometry.rows.some(
          (row) => row.top > top && row.top < end && !rows.includes(row),
        );
        if (apart) return null;
        return (
          <div
            key={family}
            className={styles.family}
            style={{ top: top + 6, height: end - top - 12 }}
            title={family}
          />
        );
      })}
      {geometry.rows.map((row) => (
        <Name key={row.piece} pattern={pattern} row={row} />
      ))}
    </div>
  );
});

function Name({ pattern, row }: { pattern: Pattern; row: RowPlace }) {
  const { piece } = row;
  const current = useWorkbench((state) => state.cursor.piece === piece);
  const chosen = useWorkbench((state) => state.articulations[piece] ?? '');
  const muted = useWorkbench((state) => state.muted.includes(piece));
  const soloed = useWorkbench((state) => state.soloed.includes(piece));
  const lane = useWorkbench((state) => (state.lane?.piece === piece ? state.lane.id : undefined));
  const kit = useWorkbench(kitOf);
  const { name, articulations } = pieceOf(piece, kit);
  const coming = articulationOf(piece, chosen, kit);
  const strand = pattern.strands.find((s) => s.piece === piece);
  const used = articulations.filter((a) => strand?.hits.some((h) => h.articulation === a.id));
  const notes = [
    coming !== articulations[0]
      ? `next: ${coming.name}`
      : used.length > 1 && used.map((a) => a.name).join(', '),
    strand?.from && `from “${strand.from.name}”`,
    strand?.loopTicks && `loops ${Math.round((strand.loopTicks / row.step) * 100) / 100} steps`,
  ].filter(Boolean);
  return (
    <div
      className={`${styles.name} ${current ? styles.current : ''} ${row.folded ? styles.folded : ''}`}
      style={{ top: row.top, height: row.height + row.lane }}
    >
      <div className={styles.label} style={{ height: row.height }}>
        <button
          type="button"
          tabIndex={-1}
          className={styles.piece}
          aria-label={`hear ${name}`}
          title={`${name}: press to hear it, twice to open its row`}
          onClick={() => {
            setCursor(piece, useWorkbench.getState().cursor.at);
            strike(piece, coming.id, useWorkbench.getState().strength);
          }}
          onDoubleClick={() => toggleRowView('open', piece)}
        >
          <PieceSign head={coming.head} />
          <span>{name}</span>
        </button>
        <Toggle on={muted} piece={piece} name="mute" sign="m" run={toggleMute} />
        <Toggle on={soloed} piece={piece} name="solo" sign="s" run={toggleSolo} />
        {notes.length > 0 && row.height > 44 && <small>{notes.join(' · ')}</small>}
      </div>
      {lane && <div className={styles.laneName}>{LANES[lane].name}</div>}
    </div>
  );
}

function Toggle(props: {
  on: boolean;
  piece: PieceId;
  name: string;
  sign: string;
  run: (piece: PieceId) => void;
}) {
  const { on, piece, name, sign, run } = props;
  const called = useWorkbench((state) => pieceOf(piece, kitOf(state)).name);
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-pressed={on}
      aria-label={`${name} ${called}`}
      title={`${name} ${called} while listening; files hold everything`}
      className={styles.toggle}
      onClick={() => run(piece)}
    >
      {sign}
    </button>
  );
}
