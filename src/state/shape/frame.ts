import type { MeterChangeWay } from '@/core/commands';
import { byStaffOrder, type PieceId } from '@/core/model';
import { barsOf, hitCount } from '@/core/pattern';
import {
  barTicks,
  isMeter,
  nextStep,
  tripletOrStraight,
  type Meter,
  type Ticks,
} from '@/core/time';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { edit, editOrSay } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { setCursor, shownNow } from './shape';

export function setBars(bars: number): void {
  const shown = shownNow();
  if (!shown) return;
  editOrSay({ type: 'set length', pattern: shown.id, length: bars * barTicks(shown.meter) });
}

export function addBars(by: number): void {
  const shown = shownNow();
  if (shown) setBars(Math.max(1, Math.floor(barsOf(shown)) + by));
}

/** Counts the pattern in another meter; where it has strokes, what becomes of its bars is asked first. */
export function setMeter(meter: Meter): void {
  const shown = shownNow();
  if (!shown) return;
  const other = barTicks(meter) !== barTicks(shown.meter);
  if (!isMeter(meter) || !other || hitCount(shown) === 0) return setMeterBy('count', meter);
  useWorkbench.setState({ meterAsked: meter });
  // The field has given the focus back by then: the dialog gives it back to the work.
  platform.afterFrame(() => openDialog('meter'));
}

export function setMeterBy(fit: MeterChangeWay, meter: Meter): void {
  const shown = shownNow();
  if (shown) editOrSay({ type: 'set meter', pattern: shown.id, meter, fit });
}

export function setStep(step: Ticks): void {
  const shown = shownNow();
  if (shown) edit({ type: 'set step', pattern: shown.id, step });
}

/** Takes the next finer (1) or coarser (-1) step rate: straight steps stay straight, triplets stay triplets. */
export function nextStepRate(by: 1 | -1): void {
  const shown = shownNow();
  if (!shown) return;
  const next = nextStep(shown.step, by);
  if (next !== undefined) setStep(next);
  else notify(`There are no ${by > 0 ? 'finer' : 'coarser'} steps than these.`);
}

/** Makes triplets of straight steps, and straight steps of triplets. */
export function toggleTriplets(): void {
  const shown = shownNow();
  if (!shown) return;
  const other = tripletOrStraight(shown.step);
  if (other !== undefined) setStep(other);
  else notify('These steps are neither straight nor triplets: choose a step rate first.');
}

export function addStrand(piece: PieceId): void {
  const shown = shownNow();
  if (shown && edit({ type: 'add strand', pattern: shown.id, piece })) {
    setCursor(piece, useWorkbench.getState().cursor.at);
  }
}

export function removeStrand(piece = useWorkbench.getState().cursor.piece): void {
  const shown = shownNow();
  if (!shown) return;
  if (editOrSay({ type: 'remove strand', pattern: shown.id, piece })) {
    const left = shownNow()?.strands.map((strand) => strand.piece) ?? [];
    const next =
      left.find((other) => byStaffOrder(other, piece, openSongNow().kit) > 0) ?? left.at(-1);
    if (next) setCursor(next, useWorkbench.getState().cursor.at);
  }
}
