import { nanoid } from 'nanoid';
import type { Song } from '@/core';
import { newHistory } from '@/core/commands';
import { emptySong, type RowView } from '@/core/model';
import { Autosave, whyNot } from '@/storage/autosave';
import { lockSong, type SongLock } from '@/storage/lock';
import * as songs from '@/storage/songs';
import { edit } from './edit';
import { notify } from '../notices/notices';
import { initial, useWorkbench } from '../store';

/** Which change each value of the open song came from, so that what was written can be told. */
const editOf = new WeakMap<Song, number>();

const autosave = new Autosave((saving, song) =>
  useWorkbench.setState((state) => ({
    saving,
    ...(saving.state === 'saved' && song && { kept: editOf.get(song) ?? state.kept }),
  })),
);
let lock: (SongLock & { id: string }) | undefined;
/** The value that is in storage: what differs from it has to be saved. */
let stored: Song | undefined;

/** Writes what is not in storage yet: told when the page is hidden or left. */
export function saveNow(): Promise<void> {
  return autosave.flush();
}

useWorkbench.subscribe(({ history, status, readOnly }) => {
  if (status !== 'ready' || readOnly || !history || history.song === stored) return;
  stored = history.song;
  const edits = useWorkbench.getState().edits + 1;
  editOf.set(history.song, edits);
  autosave.keep(history.song);
  useWorkbench.setState({ edits });
});

/** Opens a song of this browser on the workbench. */
export async function openSong(id: string): Promise<void> {
  const { songId, status } = useWorkbench.getState();
  if (songId === id && (status === 'ready' || status === 'loading')) return;
  await closeSong();
  useWorkbench.setState({ ...viewOfNothing(), status: 'loading', songId: id });
  const held = { ...lockSong(id), id };
  lock = held;
  const mine = await held.mine;
  if (lock !== held) return;
  await showStored(id, !mine);
  if (!mine) {
    void held.later.then(async () => {
      if (lock !== held) return;
      await showStored(id, false);
      notify('The other tab let go of this song: it can be changed here now.');
    });
  }
}

async function showStored(id: string, readOnly: boolean): Promise<void> {
  let read: Awaited<ReturnType<typeof songs.loadSong>>;
  const kept = memory.get(id);
  try {
    read = kept ? { song: kept, lost: [], view: {} } : await songs.loadSong(id);
  } catch (error) {
    read = { problem: whyNot(error) };
  }
  if (useWorkbench.getState().songId !== id) return;
  if ('problem' in read) {
    useWorkbench.setState({ status: 'problem', problem: read.problem });
    return;
  }
  stored = kept ? undefined : read.song;
  const { song, lost, view = {} } = read;
  useWorkbench.setState({
    status: 'ready',
    history: newHistory(song),
    view,
    lost,
    ...(lost.length > 0 && { dialog: 'opened' as const }),
    readOnly,
    patternId: song.patterns[0]?.id,
    placeId: song.places[0]?.id,
    cursor: { piece: 'snare', at: 0 },
    saving: { state: 'saved' },
  });
}

/** Saves what is pending, lets go of the song and clears the workbench. */
export async function closeSong(): Promise<void> {
  await autosave.flush();
  lock?.release();
  lock = undefined;
  stored = undefined;
  useWorkbench.setState(viewOfNothing());
}

function viewOfNothing(): Partial<typeof initial> {
  const state = useWorkbench.getState();
  const { stage, notices, incoming, dialog, audio, click, countIn, follow, zoom } = state;
  const pads = { ...state.pads, recording: false };
  return {
    ...initial,
    problem: undefined,
    songId: undefined,
    history: undefined,
    gesture: undefined,
    patternId: undefined,
    placeId: undefined,
    songLoop: undefined,
    patternLoop: undefined,
    tool: undefined,
    menu: undefined,
    lane: undefined,
    turn: undefined,
    ...{ stage, notices, incoming, dialog, audio, click, countIn, follow, zoom, pads },
  };
}

/** Songs that could not be stored: they live as long as the tab does. */
const memory = new Map<string, Song>();

/** Stores a new song of one's own; when storage fails it is kept in the tab, and that is said. */
export async function addSong(song: Song): Promise<string> {
  const own = { ...song, id: nanoid(10) };
  try {
    await songs.saveSong(own);
    memory.delete(own.id);
  } catch (error) {
    memory.set(own.id, own);
    notify(whyNot(error), 'error');
  }
  return own.id;
}

export function newSong(): Promise<string> {
  return addSong(emptySong('new', 'New song', nanoid(8)));
}

export async function duplicateSong(id: string): Promise<string | undefined> {
  const read = await songs.loadSong(id);
  if ('problem' in read) {
    notify(read.problem, 'error');
    return undefined;
  }
  const copy = await addSong({ ...read.song, name: `${read.song.name}, copy` });
  await songs.saveView(copy, read.view ?? {}).catch(() => {});
  return copy;
}

export async function renameSong(id: string, name: string): Promise<void> {
  if (isOpen(id)) {
    // What is on the workbench is newer than what is stored, and would be written over it.
    edit({ type: 'rename song', name });
    await autosave.flush();
    return;
  }
  const read = await songs.loadSong(id);
  if ('problem' in read) notify(read.problem, 'error');
  else await songs.saveSong({ ...read.song, name });
}

/** Whether a song is still on the workbench, as when the list was opened from it. */
function isOpen(id: string): boolean {
  const { songId, status } = useWorkbench.getState();
  return songId === id && status === 'ready';
}

/** Deletes a song and offers to bring it back. */
export async function deleteSong(id: string): Promise<void> {
  if (isOpen(id)) await closeSong();
  const deleted = await songs.deleteSong(id);
  if (!deleted) return;
  notify(`“${deleted.head.name}” was deleted.`, 'info', {
    label: 'undo',
    run: () => void songs.undelete(deleted),
  });
}

/** Restores the demo songs; a demo song that is open is opened anew. */
export async function restoreDemo(): Promise<void> {
  try {
    const { songId } = useWorkbench.getState();
    await closeSong();
    await songs.restoreDemo();
    if (songId) await openSong(songId);
    notify('The demo songs are as they were shipped. Your own songs were not touched.');
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Shows the rows of a pattern otherwise. That is no change of the song, and no step of undo. */
export function showRows(pattern: string, view: RowView): void {
  const { songId, view: before, readOnly } = useWorkbench.getState();
  const next = { ...before, [pattern]: view };
  useWorkbench.setState({ view: next });
  if (!songId || readOnly) return;
  // Where storage fails, rows are shown so as long as the tab is open.
  void songs.saveView(songId, next).catch(() => {});
}
