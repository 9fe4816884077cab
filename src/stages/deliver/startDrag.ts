import type { DragEvent } from 'react';
import type { Delivery, PlannedFile } from '@/core/deliver';
import { draggedFile } from '@/state/deliver/writing';

/**
 * Lets a file be dragged out of the page: browsers that know the type `DownloadURL` write it where it is
 * dropped. What takes long to make can be dragged once it was written.
 */
export function startDrag(event: DragEvent, file: PlannedFile, delivery: Delivery): void {
  const dragged = draggedFile(file, delivery);
  if (!dragged) return event.preventDefault();
  const { name, content } = dragged;
  const url = URL.createObjectURL(content);
  event.dataTransfer.effectAllowed = 'copy';
  event.dataTransfer.setData('DownloadURL', `${content.type}:${name}:${url}`);
  event.dataTransfer.setData('text/plain', name);
  event.currentTarget.addEventListener(
    'dragend',
    () => setTimeout(() => URL.revokeObjectURL(url), 60_000),
    {
      once: true,
    },
  );
}
