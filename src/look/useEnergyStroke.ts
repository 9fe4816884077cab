import { useEffect, useRef, type PointerEvent } from 'react';
import type { EnergyStroke } from '@/core/draft';
import { levelOf } from './EnergyCurve';

/** A stroke that comes so near an end of the song is meant to reach it, in pixels. */
const NEAR = 12;

interface StrokeOver {
  /** Length of what is drawn over, in ticks. */
  length: number;
  /** Height of the line, in pixels; the width is that of what the pointer is on. */
  height: number;
  /** Whether a press begins a stroke; otherwise it belongs to what lies below. */
  begins?: (event: PointerEvent<HTMLElement>) => boolean;
  onStroke: (stroke: readonly EnergyStroke[]) => void;
  onEnd: (stroke: readonly EnergyStroke[]) => void;
  onCancel: () => void;
}

/** Draws energy in one stroke of the pointer; Escape takes back the stroke that is going on. */
export function useEnergyStroke(over: StrokeOver) {
  const { length, height, begins, onStroke, onEnd, onCancel } = over;
  const stroke = useRef<EnergyStroke[]>(null);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !stroke.current) return;
      event.preventDefault();
      event.stopPropagation();
      stroke.current = null;
      onCancel();
    };
    window.addEventListener('keydown', onKeyDown, true);
    return () => window.removeEventListener('keydown', onKeyDown, true);
  }, [onCancel]);
  const momentAt = (event: PointerEvent<HTMLElement>): EnergyStroke => {
    const { left, top, width } = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - left;
    const tick = x < NEAR ? 0 : x > width - NEAR ? length : (x / width) * length;
    return { tick, level: levelOf(event.clientY - top, height) };
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0 || (begins && !begins(event))) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      stroke.current = [momentAt(event)];
      onStroke(stroke.current);
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (!stroke.current) return;
      event.stopPropagation();
      stroke.current.push(momentAt(event));
      onStroke(stroke.current);
    },
    onPointerUp: (event: PointerEvent<HTMLElement>) => {
      const drawn = stroke.current;
      stroke.current = null;
      if (!drawn) return;
      event.stopPropagation();
      onEnd(drawn);
    },
    onPointerCancel: () => {
      if (stroke.current) onCancel();
      stroke.current = null;
    },
  };
}
