/** How a row of the shelf shows where what is dragged over it would go. */
export function spotSx(spot: 'before' | 'onto' | 'behind' | undefined) {
  if (spot === 'onto') return { outline: '2px solid var(--accent)' };
  if (spot === 'before') return { boxShadow: '0 -2px 0 var(--accent)' };
  if (spot === 'behind') return { boxShadow: '0 2px 0 var(--accent)' };
  return {};
}
