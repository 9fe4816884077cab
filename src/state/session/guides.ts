import { guideOf } from '@/core/model';
import { nanoid } from 'nanoid';
import { create } from 'zustand';
import { readGuides, type ReadGuides } from '@/core/guide';
import { MAX_FILE_BYTES, tooLarge } from '@/core/midi';
import { edit } from './edit';
import { notify } from '../notices/notices';

/** A file from which a guide is taken, waiting for a part to be chosen. */
interface ComingGuide {
  name?: string;
  read?: ReadGuides;
}

export const useComingGuide = create<ComingGuide>(() => ({}));

export async function readGuideFile(file: File): Promise<void> {
  if (file.size > MAX_FILE_BYTES) return notify(tooLarge(file.name, file.size), 'error');
  try {
    const read = readGuides(new Uint8Array(await file.arrayBuffer()), file.name);
    if (read.error) return notify(`${read.error} Nothing was changed.`, 'error');
    useComingGuide.setState({ name: file.name, read });
  } catch {
    notify(`“${file.name}” could not be read. Choose it again.`, 'error');
  }
}

export function dropComingGuide(): void {
  useComingGuide.setState({ name: undefined, read: undefined }, true);
}

/** Takes a part of the waiting file as a guide, from a bar of the song on. */
export function takeGuide(source: string, name: string, at: number): void {
  const { read } = useComingGuide.getState();
  const notes = read?.notesOf(source) ?? [];
  if (edit({ type: 'add reference part', guide: guideOf(nanoid(8), name, at, notes) }))
    dropComingGuide();
}
