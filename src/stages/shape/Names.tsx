import { memo } from 'react';
import {
  articulationOf,
  FAMILIES,
  layoutOf,
  pieceOf,
  type Kit,
  type PieceId,
  type TrackLayout,
} from '@/core/model';
import { tracksOfRows } from '@/core/tracks';
import { keyOf } from '@/state/acts';
import type { Pattern } from '@/core';
import { LANES } from '@/core/pattern';
import { PieceSign } from '@/look/Notehead';
import { clearSelection, setCursor } from '@/state/shape/shape';
import { kitOf, onlyTrackOf, useWorkbench } from '@/state/store';
import { strike } from '@/state/transport/transport';
import { toggleMute, toggleOnlyTrack, toggleSolo, toggleRowView } from '@/state/shape/view';
import type { Geometry, RowPlace } from './geometry';
import styles from './Sheet.module.css';
import { useRowScaling } from './useRowScaling';

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
  const layout = useWorkbench((state) => layoutOf(state.history!.song));
  const only = useWorkbench((state) => onlyTrackOf(state)?.id);
  const groups = groupsOf(geometry.rows, kit, layout);
  return (
    <div className={styles.names} style={{ height: geometry.height }}>
      {groups.map(({ id, name, rows, track }) => {
        const [first, last] = [rows[0], rows[rows.length - 1]];
        const height = last.top + last.height + last.lane - first.top - 12;
        if (!track) {
          return (
            <div
              key={id}
              className={styles.family}
              style={{ top: first.top + 6, height }}
              title={name}
            />
          );
        }
        return (
          <button
            key={id}
            type="button"
            tabIndex={-1}
            className={`${styles.family} ${styles.track}`}
            style={{ top: first.top + 6, height }}
            aria-pressed={only === id}
            aria-label={`only ${name}`}
            title={`the track “${name}”: press to have its rows alone (${keyOf('only-track')})`}
            onClick={() => toggleOnlyTrack(id)}
          >
            {height > 60 && <span>{name}</span>}
          </button>
        );
      })}
      {geometry.rows.map((row) => (
        <Name key={row.piece} pattern={pattern} row={row} />
      ))}
    </div>
  );
});

interface Group {
  id: string;
  name: string;
  rows: RowPlace[];
  /** They are a track of the layout in use, and not only a family. */
  track?: true;
}

/** Rows that stand together: those of one track, or of one family where each is on a track of its own. */
function groupsOf(rows: readonly RowPlace[], kit: Kit, layout: TrackLayout): Group[] {
  const song = { kit, layouts: [layout], layout: layout.id };
  const tracks = tracksOfRows(
    song,
    rows.map(({ piece }) => piece),
  ).filter(({ pieces }) => pieces.length > 1);
  const at = (piece: PieceId) => rows.find((row) => row.piece === piece)!;
  if (tracks.length > 0) {
    return tracks.map(({ track, pieces }) => ({
      id: track.id,
      name: track.name,
      rows: pieces.map(at),
      track: true,
    }));
  }
  return FAMILIES.map((family) => ({
    id: family,
    name: family,
    rows: rows.filter(({ piece }) => pieceOf(piece, kit).family === family),
  })).filter(
    (group) =>
      group.rows.length > 1 &&
      rows.indexOf(group.rows.at(-1)!) - rows.indexOf(group.rows[0]) === group.rows.length - 1,
  );
}

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
  const scaling = useRowScaling(pattern, piece);
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
          title={`${name}: press to hear it, twice to open its row; drag up or down to make the row louder or softer`}
          {...scaling.handlers}
          onClick={() => {
            if (scaling.wasDragged()) return;
            clearSelection();
            setCursor(piece, useWorkbench.getState().cursor.at);
            strike(piece, coming.id, useWorkbench.getState().strength);
          }}
          onDoubleClick={() => toggleRowView('open', piece)}
        >
          <PieceSign head={coming.head} />
          <span>{scaling.percent === undefined ? name : `${scaling.percent} %`}</span>
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
