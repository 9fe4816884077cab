import type { PlacedGuide } from '@/core/guide';

/** The notes of the guides between two ticks, as thin bars: higher notes stand higher. */
export function GuideLine(props: {
  guides: readonly PlacedGuide[];
  from: number;
  to: number;
  /** Where a tick from `from` on lies, in pixels. */
  x: (tick: number) => number;
  width: number;
  height: number;
}) {
  const { guides, from, to, x, width, height } = props;
  const notes = guides.flatMap(({ guide, start }) =>
    guide.notes
      .map((note) => ({ ...note, at: start + note.at - from, muted: guide.muted }))
      .filter(({ at, length }) => at + length > 0 && at < to - from),
  );
  const pitches = notes.map(({ note }) => note);
  const low = Math.min(...pitches);
  const span = Math.max(1, Math.max(...pitches) - low);
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${guides.map(({ guide }) => guide.name).join(', ')}: ${notes.length} notes to play against`}
      style={{ display: 'block' }}
    >
      <rect width={width} height={height} fill="var(--panel)" />
      {notes.map(({ at, length, note, muted }, i) => (
        <rect
          key={i}
          x={x(Math.max(0, at))}
          y={2 + (1 - (note - low) / span) * (height - 7)}
          width={Math.max(1.5, x(Math.min(to - from, at + length)) - x(Math.max(0, at)) - 1)}
          height={3}
          fill={muted ? 'none' : 'var(--soft-ink)'}
          stroke={muted ? 'var(--soft-ink)' : 'none'}
        />
      ))}
    </svg>
  );
}
