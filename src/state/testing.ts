import type { Song } from '@/core';
import { newHistory } from '@/core/commands';
import { initial, useWorkbench, type Workbench } from './store';

/** The workbench with a song open and nothing going on, but for what a test sets. */
export function openBench(song: Song, change: Partial<Workbench> = {}): void {
  useWorkbench.setState(
    { ...initial, status: 'ready', history: newHistory(song), ...change },
    true,
  );
}
