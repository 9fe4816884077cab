/** Three warps and two wefts: the sign of the loom. */
export function Logo({ size = 24 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden style={{ flex: 'none' }}>
      <g fill="none" strokeWidth={2.6}>
        <path d="M6 2v20" stroke="var(--dye-0)" />
        <path d="M12 2v20" stroke="var(--dye-1)" />
        <path d="M18 2v20" stroke="var(--dye-2)" />
        <path d="M2 8h7M15 8h7M2 16h1.8M8.2 16h7.6M20.2 16H22" stroke="var(--ink)" />
      </g>
    </svg>
  );
}
