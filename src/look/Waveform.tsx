'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';
import type WaveSurfer from 'wavesurfer.js';
import type Regions from 'wavesurfer.js/plugins/regions';

/** A stretch of a waveform that can be moved, in seconds. A mark has no end. */
export interface Stretch {
  id: string;
  start: number;
  end?: number;
  /** What stands at it. */
  label?: string;
}

interface WaveformProps {
  label: string;
  /** What is drawn: the outline of the samples, from -1 to 1. */
  outline: Float32Array;
  seconds: number;
  height: number;
  stretches: readonly Stretch[];
  /** A stretch was moved or resized. */
  onMove(id: string, start: number, end: number): void;
  /** A place was pressed. */
  onPress?(seconds: number): void;
}

interface Drawn {
  surfer: WaveSurfer;
  regions: ReturnType<typeof Regions.create>;
}

/** A sound as a waveform, with stretches or marks that are moved by hand. */
export function Waveform(props: WaveformProps) {
  const { label, outline, seconds, height, stretches } = props;
  const box = useRef<HTMLDivElement>(null);
  const drawn = useRef<Drawn>(undefined);
  const now = useRef(props);
  useEffect(() => {
    now.current = props;
  });
  useEffect(() => {
    let gone = false;
    const container = box.current!;
    void (async () => {
      const [{ default: Surfer }, { default: Stretches }] = await Promise.all([
        import('wavesurfer.js'),
        import('wavesurfer.js/plugins/regions'),
      ]);
      if (gone) return;
      const style = getComputedStyle(container);
      const surfer = Surfer.create({
        container,
        height,
        peaks: [outline],
        duration: seconds,
        waveColor: style.getPropertyValue('--dye-0'),
        progressColor: style.getPropertyValue('--dye-0'),
        cursorWidth: 0,
        interact: false,
        hideScrollbar: true,
      });
      const regions = surfer.registerPlugin(Stretches.create());
      drawn.current = { surfer, regions };
      surfer.once('ready', () => {
        if (gone) return;
        show(drawn.current!, now.current.stretches, style);
        container.dataset.drawn = 'yes';
      });
      regions.on('region-updated', ({ id, start, end }) => now.current.onMove(id, start, end));
    })();
    return () => {
      gone = true;
      drawn.current?.surfer.destroy();
      drawn.current = undefined;
      delete container.dataset.drawn;
    };
  }, [outline, seconds, height]);
  useEffect(() => {
    if (drawn.current && box.current?.dataset.drawn)
      show(drawn.current, stretches, getComputedStyle(box.current));
  }, [stretches]);
  return (
    <Box
      ref={box}
      role="img"
      aria-label={label}
      onDoubleClick={(event) => {
        const { left, width } = event.currentTarget.getBoundingClientRect();
        props.onPress?.(((event.clientX - left) / width) * seconds);
      }}
      sx={{ bgcolor: 'var(--paper)', minHeight: height }}
    />
  );
}

/** Shows these stretches and no others; one that is there already is moved. */
function show({ regions }: Drawn, stretches: readonly Stretch[], style: CSSStyleDeclaration): void {
  const wanted = new Map(stretches.map((stretch) => [stretch.id, stretch]));
  for (const region of regions.getRegions()) {
    const stretch = wanted.get(region.id);
    if (!stretch) region.remove();
    else {
      region.setOptions({ start: stretch.start, ...(stretch.end && { end: stretch.end }) });
      wanted.delete(region.id);
    }
  }
  for (const { id, start, end, label } of wanted.values()) {
    regions.addRegion({
      id,
      start,
      ...(end !== undefined && { end }),
      ...(label && { content: label }),
      drag: end === undefined,
      resize: end !== undefined,
      color:
        end === undefined
          ? style.getPropertyValue('--accent')
          : 'color-mix(in srgb, var(--accent) 16%, transparent)',
    });
  }
}
