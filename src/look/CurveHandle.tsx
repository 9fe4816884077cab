'use client';

import { useRef, type KeyboardEvent } from 'react';
import { useDrag } from './useDrag';
import { useWheel } from './useWheel';

const ARROWS: Readonly<Record<string, readonly [across: number, up: number, size: number]>> = {
  ArrowLeft: [-1, 0, 1],
  ArrowRight: [1, 0, 1],
  ArrowUp: [0, 1, 1],
  ArrowDown: [0, -1, 1],
  PageUp: [0, 1, 10],
  PageDown: [0, -1, 10],
};

interface CurveHandleProps {
  name: string;
  min: number;
  max: number;
  value: number;
  says: string;
  /** Where it stands in its picture, in pixels. */
  x: number;
  y: number;
  cursor: 'move' | 'ew-resize' | 'ns-resize';
  /** Told where in the picture it is dragged to. @param fine Shift is held */
  onPlace(x: number, y: number, fine: boolean): void;
  /** Told how far a key or the wheel moves it: a tenth of a step, a step, or ten. */
  onStep(across: number, up: number): void;
  onReset(): void;
  onDone(): void;
  onCancel(): void;
  onFocus?(): void;
}

/** A point of a curve that is drawn as SVG: dragged, stepped by keys and the wheel, and set back by a double press. */
export function CurveHandle(props: CurveHandleProps) {
  const { name, min, max, value, says, x, y, cursor, onPlace, onStep, onReset, onDone } = props;
  const point = useRef<SVGCircleElement>(null);
  const picture = () => point.current!.ownerSVGElement!.getBoundingClientRect();
  const drag = useDrag({
    start() {
      point.current!.focus();
      const { left, top } = picture();
      return { x: left + x, y: top + y };
    },
    move(at, fine) {
      const { left, top } = picture();
      onPlace(at.x - left, at.y - top, fine);
    },
    done: onDone,
    cancel: props.onCancel,
  });
  const step = (across: number, up: number) => {
    onStep(across, up);
    onDone();
  };
  useWheel(
    point,
    () => true,
    (by) => step(cursor === 'ew-resize' ? by : 0, cursor === 'ew-resize' ? 0 : by),
  );
  const press = (event: KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    if (!arrow || event.ctrlKey || event.altKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    const [across, up, size] = arrow;
    const by = event.shiftKey ? size / 10 : size;
    step(across * by, up * by);
  };
  return (
    <circle
      ref={point}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={says}
      cx={x}
      cy={y}
      r={6}
      fill="var(--paper)"
      stroke="var(--accent)"
      strokeWidth={2}
      style={{ cursor, touchAction: 'none' }}
      onFocus={props.onFocus}
      onDoubleClick={() => {
        onReset();
        onDone();
      }}
      {...drag}
      onKeyDown={press}
    >
      <title>
        {name}: {says}
      </title>
    </circle>
  );
}
