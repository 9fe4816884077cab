import { useId } from 'react';
import { DYE_NAMES } from './tokens';
import { weavePath } from './weaves';

/** A pattern's dye and weave as a small square of cloth. */
export function DyeSwatch({ dye, size = 24 }: { dye: number; size?: number }) {
  const id = useId();
  const colour = `var(--dye-${dye})`;
  return (
    <svg
      width={size}
      height={size}
      role="img"
      aria-label={`dye ${DYE_NAMES[dye]}`}
      style={{ flex: 'none', display: 'block' }}
    >
      <defs>
        <pattern id={id} width={8} height={8} patternUnits="userSpaceOnUse">
          <path
            d={weavePath(dye)}
            stroke={colour}
            strokeWidth={1}
            strokeLinecap="round"
            fill="none"
          />
        </pattern>
      </defs>
      <rect width={size} height={size} fill={colour} opacity={0.22} />
      <rect width={size} height={size} fill={`url(#${id})`} opacity={0.6} />
      <rect x={0.5} y={0.5} width={size - 1} height={size - 1} fill="none" stroke={colour} />
    </svg>
  );
}
