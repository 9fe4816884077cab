'use client';

import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type ReactNode } from 'react';
import { keyOf } from '@/state/acts';

/** What a panel shows, in a line, and what can be done about it. */
export function PanelHead(props: { title: string; says: string; children?: ReactNode }) {
  const { title, says, children } = props;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
      <Box component="h2" sx={{ fontSize: 16, fontWeight: 600, m: 0, whiteSpace: 'nowrap' }}>
        {title}
      </Box>
      <Box
        aria-live="polite"
        sx={{
          flex: 1,
          minWidth: 0,
          fontSize: 13,
          color: 'text.secondary',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
        }}
      >
        {says}
      </Box>
      {children}
    </Box>
  );
}

const LINE = 26;

/** What was found, one a line: press a line to go there. */
export function FindingList(props: {
  label: string;
  items: readonly string[];
  chosen: number;
  empty: string;
  onChoose: (index: number) => void;
}) {
  const { label, items, chosen, empty, onChoose } = props;
  const box = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- a virtual list measures as it scrolls
  const lines = useVirtualizer({
    count: items.length,
    getScrollElement: () => box.current,
    estimateSize: () => LINE,
    overscan: 6,
  });
  useEffect(() => {
    if (chosen < items.length) lines.scrollToIndex(chosen, { align: 'auto' });
  }, [chosen, items.length, lines]);
  if (items.length === 0) return <Box sx={{ color: 'text.secondary' }}>{empty}</Box>;
  return (
    <Box
      ref={box}
      role="listbox"
      aria-label={`${label} (${keyOf('next-finding')}, ${keyOf('previous-finding')})`}
      tabIndex={0}
      onKeyDown={(event) => {
        const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
        const next = chosen + by;
        if (by === 0 || next < 0 || next >= items.length) return;
        event.preventDefault();
        event.stopPropagation();
        onChoose(next);
      }}
      sx={{ height: 86, overflowY: 'auto', border: '1px solid var(--fine-line)' }}
    >
      <Box sx={{ position: 'relative', height: lines.getTotalSize() }}>
        {lines.getVirtualItems().map(({ index, start }) => (
          <Box
            key={index}
            role="option"
            aria-selected={index === chosen}
            onClick={() => onChoose(index)}
            className="figures"
            sx={{
              position: 'absolute',
              insetInline: 0,
              height: LINE,
              px: 1,
              lineHeight: `${LINE}px`,
              fontSize: 14,
              cursor: 'pointer',
              whiteSpace: 'nowrap',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              borderLeft: '3px solid',
              borderLeftColor: index === chosen ? 'var(--accent)' : 'transparent',
              bgcolor: index === chosen ? 'var(--panel)' : 'transparent',
            }}
            style={{ top: start }}
          >
            {items[index]}
          </Box>
        ))}
      </Box>
    </Box>
  );
}
