import type { Song } from '../model';

/** One step of undo: the song before it, and what the step did. */
export interface Step {
  song: Song;
  label: string;
}

/**
 * A song with the values it had. Songs share all parts that a command left alone, so a step costs
 * about as much memory as what it changed (docs/decisions/0003-undo-by-values.md).
 */
export interface History {
  song: Song;
  past: readonly Step[];
  future: readonly Step[];
}

/** How far back undo goes. */
const DEPTH = 1000;

export function newHistory(song: Song): History {
  return { song, past: [], future: [] };
}

/** Makes `song` the present one; a step that changed nothing is none. */
export function advance(history: History, song: Song, label: string): History {
  if (song === history.song) return history;
  return {
    song,
    past: [...history.past.slice(-(DEPTH - 1)), { song: history.song, label }],
    future: [],
  };
}

export function undo(history: History): History {
  const step = history.past.at(-1);
  if (!step) return history;
  return {
    song: step.song,
    past: history.past.slice(0, -1),
    future: [...history.future, { song: history.song, label: step.label }],
  };
}

export function redo(history: History): History {
  const step = history.future.at(-1);
  if (!step) return history;
  return {
    song: step.song,
    past: [...history.past, { song: history.song, label: step.label }],
    future: history.future.slice(0, -1),
  };
}

/** What undo would take back and redo bring again, in the words of the commands. */
export function nextSteps(history: History): { undo?: string; redo?: string } {
  return { undo: history.past.at(-1)?.label, redo: history.future.at(-1)?.label };
}
