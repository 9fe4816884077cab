import type { Fit } from '@/core/guide';

/** The notes of the guide over the stretch: full where a kick or an accent meets them. */
export function FitMarks({ marks, length }: { marks: Fit['marks']; length: number }) {
  return (
    <svg
      viewBox="0 0 1000 12"
      preserveAspectRatio="none"
      width="100%"
      height={12}
      role="img"
      aria-label={`${marks.filter(({ met }) => met).length} of ${marks.length} notes of the reference part are met`}
      style={{ display: 'block', marginTop: 4, background: 'var(--paper)' }}
    >
      {marks.map(({ at, met }) => (
        <rect
          key={at}
          x={(at / length) * 1000}
          y={met ? 0 : 4}
          width={5}
          height={met ? 12 : 4}
          fill={met ? 'var(--ink)' : 'var(--accent)'}
        />
      ))}
    </svg>
  );
}
