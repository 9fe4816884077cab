import { useLiveQuery } from 'dexie-react-hooks';
import {
  READY_DELIVERIES,
  whatIn,
  writable,
  type AudioWish,
  type Delivery,
  type Handed,
  type MidiWish,
} from '@/core/deliver';
import type { Song } from '@/core/model';
import {
  forgetDelivery,
  keepDelivery,
  keptDeliveries,
  type KeptDelivery,
} from '@/storage/deliveries';
import { notify } from '../notices/notices';
import { useWorkbench } from '../store';

/** Wishes for something else; what was written before is no longer what is listed. */
export function wish(change: Partial<Delivery>): void {
  useWorkbench.setState(({ delivery }) => ({
    delivery: { ...delivery, ...change },
    handedOver: undefined,
  }));
}

/** A delivery, with the part it means in a song. @param shown the pattern that is shown, by its id */
export function deliveryIn(song: Song, delivery: Delivery, shown?: string): Delivery {
  const what = whatIn(song, delivery.what, shown);
  return what === delivery.what ? delivery : { ...delivery, what };
}

/** The delivery of the open song, as Deliver lists its files. */
export function deliveryNow(song: Song): Delivery {
  const { delivery, patternId } = useWorkbench.getState();
  return deliveryIn(song, delivery, patternId);
}

export function showHanded(handed: Handed): void {
  useWorkbench.setState({ shownFile: undefined });
  wish({ handed });
}

export function wishMidi(change: Partial<MidiWish>): void {
  wish({ midi: { ...useWorkbench.getState().delivery.midi, ...change } });
}

/** What one track has of its own; what is `undefined` is as for all. */
export function wishTrack(id: string, change: MidiWish['byTrack'][string]): void {
  const { byTrack } = useWorkbench.getState().delivery.midi;
  wishMidi({ byTrack: { ...byTrack, [id]: { ...byTrack[id], ...change } } });
}

export function wishAudio(change: Partial<AudioWish>): void {
  wish({ audio: { ...useWorkbench.getState().delivery.audio, ...change } });
}

/** Has stems add up or not; the bus is no longer in them then, nor beside them until that is wished for. */
export function wishAddUp(addUp: boolean): void {
  wishAudio({ addUp, bus: !addUp });
}

export function wishSound(change: Partial<Delivery['sound']>): void {
  wish({ sound: writable({ ...useWorkbench.getState().delivery.sound, ...change }) });
}

export function wishChart(change: Partial<Delivery['chart']>): void {
  wish({ chart: { ...useWorkbench.getState().delivery.chart, ...change } });
}

export function showFile(path: string): void {
  useWorkbench.setState({ shownFile: path });
}

/** The deliveries that are offered by name: ready ones, and those that were kept. */
export function useDeliveries(): { ready: readonly KeptDelivery[]; kept: readonly KeptDelivery[] } {
  const kept = useLiveQuery(() => keptDeliveries().catch(() => []), []) ?? [];
  const own = new Set(kept.map(({ name }) => name));
  const ready = Object.entries(READY_DELIVERIES)
    .filter(([name]) => !own.has(name))
    .map(([name, delivery]) => ({ name, delivery }));
  return { ready, kept };
}

/**
 * Wishes for what was kept; a part of another song is the whole of this one. A ready one does not know where
 * files are put here: that stays as it is.
 */
export function takeDelivery({ delivery }: KeptDelivery): void {
  const isReady = Object.values(READY_DELIVERIES).includes(delivery);
  useWorkbench.setState(({ delivery: { packing } }) => ({
    delivery: isReady ? { ...delivery, packing } : delivery,
    shownFile: undefined,
    handedOver: undefined,
  }));
}

/** Keeps what is wished for by a name; one of that name is replaced. */
export async function keepDeliveryAs(name: string): Promise<void> {
  const called = name.trim().slice(0, 120);
  if (!called) return notify('Give the preset a name first.', 'error');
  const { delivery } = useWorkbench.getState();
  try {
    await keepDelivery({ name: called, delivery });
  } catch {
    return notify(
      'The preset could not be kept: this browser’s storage is full or closed.',
      'error',
    );
  }
  notify(`Kept as “${called}”.`);
}

export async function forgetKeptDelivery(kept: KeptDelivery): Promise<void> {
  await forgetDelivery(kept.name);
  notify(`“${kept.name}” is no longer kept.`, 'info', {
    label: 'keep it again',
    run: () => void keepDelivery(kept),
  });
}
