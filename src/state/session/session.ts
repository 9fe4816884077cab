import { nanoid } from 'nanoid';
import type { Song } from '@/core';
import { newHistory, type History } from '@/core/commands';
import { checkSong, emptySong, withDifference, type RowView, type SongView } from '@/core/model';
import { tabs, type Word } from '@/storage/channel';
import { NoAnswer, whyNot, whyNotRead, withinPatience } from '@/storage/failures';
import { fastLog } from '@/storage/fastLog';
import { Keeper, type Saving } from '@/storage/keeper';
import { lockSong, type SongLock } from '@/storage/lock';
import { askForRoom } from '@/storage/room';
import * as songs from '@/storage/songs';
import { UndoLog } from '@/storage/undoLog';
import { edit, leaveTrying, songBefore } from './edit';
import { notify, offer } from '../notices/notices';
import { initial, useWorkbench } from '../store';
import { restoreReach } from '../weave/choosing';

/** Which change each value of the open song came from, so that what was written can be told. */
const editOf = new WeakMap<Song, number>();

const keeper = new Keeper({
  saving(song, saving) {
    const unsaved = keeper.allUnsaved();
    useWorkbench.setState((state) => ({
      unsaved,
      ...(state.songId === song.id && savingOf(song, saving, state.kept)),
    }));
  },
  changed: (id, n, difference) => tabs().tell({ says: 'changed', id, n, difference }),
  parted: (song, how) => void part(song, how),
});

function savingOf(song: Song, saving: Saving, kept: number) {
  return { saving, kept: saving.state === 'saved' ? (editOf.get(song) ?? kept) : kept };
}

/** The steps of undo of the open song, kept over a reload. */
let undoLog: UndoLog | undefined;

let lock: (SongLock & { id: string }) | undefined;
/** The value that the keeper was told last. */
let told: Song | undefined;
/** How songs are shown that were not stored, or not in time. */
const views = new Map<string, SongView>();
/** Changes in the song that this tab only looks on at. */
let seen = 0;

/** Writes what is not in storage yet: told when the page is hidden or left. */
export function saveNow(): Promise<void> {
  undoLog?.writeNow();
  return keeper.flush();
}

/** Whether leaving the page now would lose something. */
export function isAtRisk(): boolean {
  return keeper.isAtRisk;
}

useWorkbench.subscribe((state) => {
  const { status, readOnly, songId } = state;
  // What is only tried out is not kept.
  const song = songBefore(state);
  if (status !== 'ready' || readOnly || !song || song.id !== songId || song === told) return;
  told = song;
  const edits = state.edits + 1;
  editOf.set(song, edits);
  useWorkbench.setState({ edits });
  keeper.keep(song);
  if (state.history && !state.gesture)
    void undoLog?.follow(state.history, keeper.changesIn(song.id));
  if (edits === 1) void askForRoom(song.id);
});

/** How long the lock of a page that is loaded anew may outlive it, in ms. */
const OWN_RELOAD = 1500;

/** Done once a page: what is chosen on it is not chosen otherwise. */
let restoring: Promise<void> | undefined;

/** Opens a song of this browser on the workbench. */
export async function openSong(id: string): Promise<void> {
  const { songId, status } = useWorkbench.getState();
  if (songId === id && (status === 'ready' || status === 'loading')) return;
  await closeSong();
  useWorkbench.setState({ ...viewOfNothing(), status: 'loading', songId: id });
  void (restoring ??= restoreReach());
  const held = { ...lockSong(id), id };
  lock = held;
  const mine = await held.mine;
  if (lock !== held) return;
  await showStored(id, !mine);
  if (!mine) {
    const since = Date.now();
    void held.later.then(async () => {
      if (lock !== held) return;
      await showStored(id, false);
      // A page that was just loaded anew waits for itself for a moment: that is no other tab.
      if (held.mineBefore && Date.now() - since < OWN_RELOAD) return;
      notify('The other tab let go of this song: it can be changed here now.');
    });
  }
}

/** Shows the stored song. Storage that does not answer in time is said; what comes late is shown all the same. */
async function showStored(id: string, readOnly: boolean): Promise<void> {
  const held = lock;
  const asked = storedOrUnsaved(id);
  const inTime = await withinPatience(asked).catch((error) => ({
    problem: whyNotRead(error),
    error,
  }));
  if (lock !== held) return;
  await showRead(id, inTime, readOnly);
  if (!('error' in inTime) || !(inTime.error instanceof NoAnswer)) return;
  const late = await asked.catch(() => undefined);
  if (late && lock === held) await showRead(id, late, readOnly);
}

async function showRead(
  id: string,
  read: Awaited<ReturnType<typeof songs.loadSong>>,
  readOnly: boolean,
): Promise<void> {
  if (useWorkbench.getState().songId !== id) return;
  if ('problem' in read) {
    useWorkbench.setState({ status: 'problem', problem: read.problem });
    return;
  }
  const { song, lost, view = {}, n, stored, trail } = read;
  const unsaved = keeper.unsaved(id);
  // The copy as it was found is kept before anything is written over it.
  if (lost.length > 0 && !readOnly) await songs.keepDamaged(id).catch(() => {});
  if (!readOnly && !unsaved) keeper.opened(song, n, stored);
  const history = await historyOf(song, n, readOnly || unsaved !== undefined, trail);
  if (useWorkbench.getState().songId !== id) return;
  told = song;
  seen = n;
  const { patternId, placeId } = useWorkbench.getState();
  useWorkbench.setState({
    status: 'ready',
    problem: undefined,
    history,
    gesture: undefined,
    view,
    lost,
    ...(lost.length > 0 && { dialog: 'opened' as const }),
    readOnly,
    patternId: song.patterns.some((p) => p.id === patternId) ? patternId : song.patterns[0]?.id,
    placeId: song.places.some((p) => p.id === placeId) ? placeId : song.places[0]?.id,
    cursor: { piece: 'snare', at: 0 },
    saving: unsaved ? { state: 'failed', why: unsaved.why } : { state: 'saved' },
  });
}

/** The song with the steps of undo that are known of it. */
async function historyOf(
  song: Song,
  n: number,
  alone: boolean,
  trail?: songs.LoadedSong['trail'],
): Promise<History> {
  undoLog = alone ? undefined : new UndoLog(song.id);
  if (!undoLog) return newHistory(song);
  const kept = undoLog;
  return withinPatience(kept.read(song, n, trail?.())).catch((error) => {
    // Steps that come late belong to another value than the one that is shown.
    if (error instanceof NoAnswer && undoLog === kept) undoLog = undefined;
    return newHistory(song);
  });
}

/** The newest value of a song: what this tab could not store, or what is in storage. */
export async function storedOrUnsaved(id: string): ReturnType<typeof songs.loadSong> {
  const unsaved = keeper.unsaved(id);
  if (!unsaved) return songs.loadSong(id);
  return { ...unsaved, lost: [], view: views.get(id) ?? {} };
}

/** Saves what is pending, lets go of the song and clears the workbench. */
export async function closeSong(): Promise<void> {
  const { songId } = useWorkbench.getState();
  leaveTrying(true);
  undoLog?.writeNow();
  if (songId) await keeper.close(songId);
  lock?.release();
  lock = undefined;
  told = undefined;
  undoLog = undefined;
  useWorkbench.setState(viewOfNothing());
}

/** Another tab wrote or deleted the song of this one: what is here becomes a song of its own. */
async function part(song: Song, how: 'newer' | 'gone'): Promise<void> {
  const open = isOpen(song.id);
  if (how === 'gone') {
    offerBack(song);
    return;
  }
  await addSong({ ...song, name: `${song.name}, from another tab` });
  notify(
    `“${song.name}” was changed in another tab meanwhile. What you did here is kept as “${song.name}, from another tab”.`,
    'info',
  );
  if (!open) return;
  await closeSong();
  await openSong(song.id);
}

/** A song that this tab has open was deleted elsewhere: it is not brought back unasked. */
function offerBack(song: Song): void {
  keeper.drop(song.id);
  if (isOpen(song.id)) {
    useWorkbench.setState({ readOnly: true, gone: true, saving: { state: 'saved' } });
    return;
  }
  notify(`“${song.name}” was deleted in another tab.`, 'info', {
    label: 'bring it back',
    run: () => void bringBack(song),
  });
}

/** Brings back the open song, which was deleted in another tab. */
export async function bringOpenBack(): Promise<void> {
  const { history, gone } = useWorkbench.getState();
  if (gone && history) await bringBack(songBefore() ?? history.song);
}

async function bringBack(song: Song): Promise<void> {
  try {
    await songs.undelete(song.id);
    await songs.saveSong(song);
  } catch (error) {
    notify(whyNot(error), 'error');
    return;
  }
  tabs().tell({ says: 'replaced', id: song.id });
  if (useWorkbench.getState().songId === song.id) await reopen(song.id);
}

async function reopen(id: string): Promise<void> {
  keeper.drop(id);
  await closeSong();
  await openSong(id);
}

/**
 * Hears what other tabs do to songs, and takes over what tabs that were killed have left.
 * @returns a function that ends it
 */
export function hearOtherTabs(): () => void {
  fastLog();
  return tabs().listen((word) => void obey(word));
}

async function obey(word: Word): Promise<void> {
  const { songId, readOnly, status, history } = useWorkbench.getState();
  if (word.id !== songId || status !== 'ready' || !history) return;
  if (word.says === 'rename' && !readOnly) {
    edit({ type: 'rename song', name: word.name });
  } else if (word.says === 'replaced') {
    await reopen(word.id);
  } else if (word.says === 'deleted') {
    offerBack(songBefore() ?? history.song);
  } else if (word.says === 'changed' && readOnly) {
    follow(word, history.song);
  }
}

/** Shows what the other tab did, or reads the song anew where something was missed. */
function follow({ id, n, difference }: Word & { says: 'changed' }, before: Song): void {
  if (n <= seen) return;
  const next = n === seen + 1 ? (withDifference(before, difference) as Song) : undefined;
  if (!next || checkSong(next).length > 0) return void showStored(id, true);
  seen = n;
  told = next;
  useWorkbench.setState({ history: newHistory(next) });
}

function viewOfNothing(): Partial<typeof initial> {
  const state = useWorkbench.getState();
  const { stage, notices, incoming, dialog, audio, click, countIn, follow, zoom, reach } = state;
  const pads = { ...state.pads, recording: false };
  return {
    ...initial,
    problem: undefined,
    songId: undefined,
    gone: undefined,
    history: undefined,
    gesture: undefined,
    patternId: undefined,
    placeId: undefined,
    bars: undefined,
    row: undefined,
    laid: undefined,
    opened: undefined,
    beside: undefined,
    songLoop: undefined,
    patternLoop: undefined,
    tool: undefined,
    menu: undefined,
    lane: undefined,
    turn: undefined,
    ...{ stage, notices, incoming, dialog, audio, click, countIn, follow, zoom, reach, pads },
  };
}

/** Stores a new song of one's own. When storage fails it is kept in the tab; songs and banner say so. */
export async function addSong(song: Song, view?: SongView): Promise<string> {
  const own = { ...song, id: nanoid(10) };
  try {
    await withinPatience(songs.saveSong(own));
  } catch (error) {
    keeper.adopt(own, whyNot(error));
  }
  // Where storage fails, the song is there all the same, with its rows as they usually are.
  if (view) views.set(own.id, view);
  if (view) await withinPatience(songs.saveView(own.id, view)).catch(() => {});
  return own.id;
}

export function newSong(): Promise<string> {
  return addSong(emptySong('new', 'New song', nanoid(8)));
}

export async function duplicateSong(id: string): Promise<string | undefined> {
  const read = await storedOrUnsaved(id);
  if ('problem' in read) {
    notify(read.problem, 'error');
    return undefined;
  }
  return addSong({ ...read.song, name: `${read.song.name}, copy` }, read.view);
}

export async function renameSong(id: string, name: string): Promise<void> {
  if (isOpen(id) && !useWorkbench.getState().readOnly) {
    // What is on the workbench is newer than what is stored, and would be written over it.
    edit({ type: 'rename song', name });
    await keeper.flush(id);
    return;
  }
  const held = lockSong(id);
  try {
    if (!(await held.mine)) return tabs().tell({ says: 'rename', id, name });
    const refused = await songs.renameStored(id, name);
    if (refused) notify(refused.problem, 'error');
  } catch (error) {
    notify(whyNot(error), 'error');
  } finally {
    held.release();
  }
}

/** Whether a song is still on the workbench, as when the list was opened from it. */
function isOpen(id: string): boolean {
  const { songId, status } = useWorkbench.getState();
  return songId === id && status === 'ready';
}

/** Puts a song into the bin and offers to bring it back. */
export async function deleteSong(id: string): Promise<void> {
  const open = isOpen(id);
  try {
    if (open) await keeper.flush(id);
    const unsaved = keeper.unsaved(id);
    if (open) await closeSong();
    keeper.drop(id);
    const binned = await withinPatience(songs.deleteSong(id));
    const name = binned?.head.name ?? unsaved?.song.name;
    if (name === undefined) return;
    tabs().tell({ says: 'deleted', id });
    useWorkbench.setState({ unsaved: keeper.allUnsaved() });
    notify(`“${name}” was deleted.`, 'info', {
      label: 'undo',
      run: () => void (unsaved ? bringBack(unsaved.song) : undelete(id)),
    });
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Takes a song out of the bin. */
export async function undelete(id: string): Promise<void> {
  try {
    if (!(await withinPatience(songs.undelete(id)))) notify('The bin was emptied meanwhile.');
    else tabs().tell({ says: 'replaced', id });
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Empties the bin, and tries again to store what there was no room for. */
export async function emptyBin(): Promise<void> {
  try {
    await withinPatience(songs.emptyBin());
    await keeper.flush();
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Restores the demo songs; a demo song that is open is opened anew. */
export async function restoreDemo(): Promise<void> {
  try {
    const before = await replaceDemo(songs.restoreDemo);
    offer('The demo songs are as they were shipped. Your own songs were not touched.', {
      label: 'put mine back',
      run: () => void putDemoBack(before),
    });
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Replaces the demo songs where they are stored; the one that is open is opened anew. */
async function replaceDemo<T>(replace: () => Promise<T>): Promise<T> {
  const { songId } = useWorkbench.getState();
  await closeSong();
  try {
    const done = await withinPatience(replace());
    for (const id of songs.demoIds()) tabs().tell({ says: 'replaced', id });
    return done;
  } finally {
    if (songId) await openSong(songId);
  }
}

async function putDemoBack(before: songs.DemoBefore): Promise<void> {
  try {
    await replaceDemo(() => songs.unrestoreDemo(before));
    notify('The demo songs are as you had them.');
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
  views.set(songId, next);
  void songs.saveView(songId, next).catch(() => {});
}
