import { DEFAULT_KIT, type PieceId } from '@/core/model';
import { create } from 'zustand';
import type { Pattern, Song } from '@/core';
import {
  heavyOf,
  strokesOfPattern,
  type Filter,
  type Groove,
  type Group,
  type SortBy,
} from '@/core/library';
import { cropTo } from '@/core/pattern';
import * as library from '@/storage/library/library';
import { withinPatience } from '@/storage/failures';
import { platform } from '../platform';
import type { Gathering } from './gathering';
import { listed, namedGroove, remembered } from './listing';
import { openSongNow, useWorkbench, type Audition } from '../store';
import { notify } from '../notices/notices';
import { audition, auditionRegion, prepareSounds, setHear } from '../transport/transport';

export const useGather = create<Gathering>(() => ({
  status: 'idle',
  grooves: [],
  remarks: new Map(),
  filter: {},
  sort: { by: 'plain', down: false },
  parts: [],
  part: 0,
  pieces: [],
  wait: 'bar',
  fitBy: 'kick and accents',
  families: new Map(),
  tab: 'groove',
  showPassed: true,
}));

const set = useGather.setState;
const get = useGather.getState;

let opening = Promise.resolve();

/** Reads the index of the library, once. Whoever asks while it is read waits for it too. */
export function openLibrary(): Promise<void> {
  if (get().status === 'idle') opening = readIndex();
  return opening;
}

async function readIndex(): Promise<void> {
  set({ status: 'loading', problem: undefined });
  const [shipped, own, remarks] = await Promise.allSettled([
    library.serverGrooves(),
    withinPatience(library.ownGrooves(), LIBRARY_PATIENCE),
    withinPatience(library.allRemarks(), LIBRARY_PATIENCE),
  ]);
  const of = <T>(result: PromiseSettledResult<T>, other: T) =>
    result.status === 'fulfilled' ? result.value : other;
  const given = of(shipped, { grooves: [], families: new Map(), more: false });
  set({
    status: 'ready',
    grooves: [...given.grooves, ...of(own, [])],
    families: given.families,
    remarks: of(remarks, new Map()),
    ...(shipped.status === 'rejected' && {
      problem:
        'The shipped library cannot be reached. Your own files are listed; reload to try again.',
    }),
  });
  prepareSounds(DEFAULT_KIT.pieces.map(({ id }) => id));
  if (given.more) void restOfServer();
  void measureOldRows();
}

/** So many rows are shown and stored together. */
const ROWS_AT_ONCE = 64;

/**
 * Measures rows that were stored before their kicks and accents were kept, so that the list says of them how
 * they fit: a file at a time, and the page goes on in between.
 */
async function measureOldRows(): Promise<void> {
  const old = get().grooves.filter(({ id, heavy }) => id.startsWith('own/') && !heavy);
  for (let from = 0; from < old.length; from += ROWS_AT_ONCE) {
    const measured = new Map<string, Groove>();
    for (const row of old.slice(from, from + ROWS_AT_ONCE)) {
      const [pattern] = await library.patternsOf(row.id).catch(() => []);
      if (!pattern) continue;
      measured.set(row.id, { ...row, heavy: heavyOf(strokesOfPattern(pattern, row.bpm)) });
      await new Promise<void>((done) => platform.afterFrame(done));
    }
    set(({ grooves }) => ({
      grooves: grooves.map((row) => (row.heavy ? row : (measured.get(row.id) ?? row))),
    }));
    // What cannot be stored is measured again the next time.
    await library.saveRows([...measured.values()]).catch(() => {});
  }
}

/** Tens of thousands of rows may be in storage, and take their time, in ms. */
const LIBRARY_PATIENCE = 10_000;
/** How long the server is left alone before it is asked for more, in ms. */
const ASK_AGAIN = 1000;

/** Lists what the server reads of its folders while it reads them. */
async function restOfServer(): Promise<void> {
  for (let more = true; more;) {
    await new Promise((later) => setTimeout(later, ASK_AGAIN));
    const given = await library.serverGrooves().catch(() => undefined);
    if (get().status !== 'ready') return;
    if (!given) {
      const problem = 'The server stopped answering: its further folders are listed only in part.';
      return set({ problem });
    }
    set(({ grooves }) => ({
      grooves: [...given.grooves, ...grooves.filter(({ id }) => id.startsWith('own/'))],
    }));
    more = given.more;
  }
}

/** Reads the index anew, where it was read: rows have come into storage. */
export async function reopenLibrary(): Promise<void> {
  if (get().status !== 'ready') return;
  set({ status: 'idle' });
  await openLibrary();
}

export function listedNow() {
  const state = useWorkbench.getState();
  return listed(get(), state.history?.song, auditionRegion(state));
}

export function setFilter(change: Partial<Filter>): void {
  const filter = { ...get().filter, ...change };
  for (const key of Object.keys(filter) as (keyof Filter)[]) {
    const value = filter[key];
    if (value === undefined || value === '' || (Array.isArray(value) && value.length === 0)) {
      delete filter[key];
    }
  }
  set({ filter });
}

export function clearFilter(): void {
  set({ filter: {}, like: undefined });
}

/** Sorts by a column; the same column again turns the order round. */
export function sortBy(by: SortBy): void {
  const { sort } = get();
  const down = by === 'fit' || by === 'stars';
  set({ sort: sort.by === by ? { by, down: !sort.down } : { by, down }, like: undefined });
}

/** Lists what is nearest to the chosen groove; again, everything. */
export function likeThis(groups: readonly Group[] = []): void {
  const { chosen, like: before } = get();
  if (!chosen)
    return notify('Choose a groove first: others are then listed by how like it they are.');
  const same = before?.id === chosen && before.groups.join() === groups.join();
  set({ like: same ? undefined : { id: chosen, groups } });
}

export function stopLike(): void {
  set({ like: undefined });
}

interface AtHand {
  coming: Promise<Pattern[]>;
  /** Once they are here. */
  patterns?: Pattern[];
}

const cache = new Map<string, AtHand>();
/** Patterns that are kept at hand, so that going back and forth is heard at once. */
const MOST_CACHED = 300;

/** The hits of grooves that were drafted: they lie nowhere else. */
const drafted = new Map<string, Pattern>();

/** Lists drafted grooves, in their order, and nothing else; those that were drafted before go. */
export function listDrafted(
  family: string,
  grooves: readonly { groove: Groove; pattern: Pattern }[],
): void {
  for (const { id } of get().grooves) if (drafted.delete(id)) cache.delete(id);
  for (const { groove, pattern } of grooves) drafted.set(groove.id, pattern);
  const others = get().grooves.filter(({ id }) => !id.startsWith('drafted/'));
  set({
    grooves: [...others, ...grooves.map(({ groove }) => groove)],
    filter: { family },
    sort: { by: 'name', down: false },
    like: undefined,
    tab: 'groove',
  });
}

function atHand(id: string): AtHand {
  const own = drafted.get(id);
  if (own) return { coming: Promise.resolve([own]), patterns: [own] };
  let entry = cache.get(id);
  if (!entry) {
    const made: AtHand = {
      coming: library.patternsOf(id).then(
        (patterns) => (made.patterns = patterns),
        () => {
          cache.delete(id);
          return [];
        },
      ),
    };
    cache.set(id, (entry = made));
    if (cache.size > MOST_CACHED) cache.delete(cache.keys().next().value!);
  }
  return entry;
}

/** The parts of a groove, at hand or on their way; none where they cannot be read. */
export const patternsOf = (id: string) => atHand(id).coming;

/** Chooses a groove; with `hear`, it is heard at once: what is at hand sounds before it is drawn. */
export async function chooseGroove(id: string, hear = true): Promise<void> {
  const { coming, patterns } = atHand(id);
  if (!patterns) set({ chosen: id, tab: 'groove' });
  const parts = patterns ?? (await coming);
  if (!patterns && get().chosen !== id) return;
  // Strands that are chosen stay chosen over a groove that lacks them.
  set({ chosen: id, tab: 'groove', parts, part: 0, partsOf: id, bars: undefined });
  if (hear) hearChosen();
  ahead(id);
}

/** Fetches what the arrow keys come to next. */
function ahead(id: string): void {
  const { list } = listedNow();
  const at = list.findIndex((groove) => groove.id === id);
  for (const near of [at + 1, at + 2, at - 1]) if (list[near]) void patternsOf(list[near].id);
}

/** The part of the chosen groove that is looked at. */
export function chosenPattern(): Pattern | undefined {
  const { parts, part, partsOf, chosen, bars } = get();
  const whole = partsOf === chosen ? parts[part] : undefined;
  return whole && bars ? cutOut(whole, bars) : whole;
}

const rememberedCut = remembered<Pattern>();

/** Some bars of a pattern, as a pattern. */
export function cutOut(pattern: Pattern, bars: { from: number; to: number }): Pattern {
  return rememberedCut([pattern, bars.from, bars.to], () => {
    const cut = cropTo(pattern, bars);
    return cut === pattern
      ? pattern
      : { ...cut, name: `${pattern.name}, bars ${bars.from + 1} to ${bars.to}` };
  });
}

/** Cuts some bars out of the groove that is looked at: only they are heard, kept and taken. */
export function chooseBars(bars: { from: number; to: number } | undefined): void {
  set({ bars });
  if (useWorkbench.getState().audition) hearChosen();
}

/** Goes up or down the list and hears what is there. */
export function goToGroove(by: number): void {
  const next = neighbour(by);
  if (next !== undefined) void chooseGroove(next);
}

/** The groove so many rows from the chosen one. */
function neighbour(by: number): string | undefined {
  const { list } = listedNow();
  const now = list.findIndex(({ id }) => id === get().chosen);
  return list[now < 0 ? 0 : Math.max(0, Math.min(list.length - 1, now + by))]?.id;
}

/** Does something with the chosen groove and goes on to the next, also where the chosen one goes. */
export function andGoOn(act: () => void): void {
  const next = neighbour(1);
  act();
  const { list } = listedNow();
  // The row that comes to where the last one was.
  const there = list.some(({ id }) => id === next) ? next : list.at(-1)?.id;
  if (there !== undefined) void chooseGroove(there);
}

/** Hears the first groove of the list, as after a search. */
export function hearFirst(): void {
  const [first] = listedNow().list;
  if (first) void chooseGroove(first.id);
}

export function choosePart(part: number): void {
  set({ part, bars: undefined });
  hearChosen();
}

/** Hears the chosen groove as it is set: in place or alone, whole or some strands of it. */
export function hearChosen(): void {
  const pattern = chosenPattern();
  const { pieces, wait } = get();
  if (!pattern) return;
  const there = pieces.filter((piece) => pattern.strands.some((s) => s.piece === piece));
  const song = openSongNow();
  if (song.places.length === 0) setHear('pattern');
  audition({ pattern, wait, ...(there.length > 0 && { pieces: there }) });
}

/** Hears the song as it is again, while it plays on: with and without. */
export function hearWithout(): void {
  if (useWorkbench.getState().audition) audition(undefined);
  else hearChosen();
}

export function togglePiece(piece: PieceId): void {
  const { pieces } = get();
  set({
    pieces: pieces.includes(piece) ? pieces.filter((p) => p !== piece) : [...pieces, piece],
  });
  if (useWorkbench.getState().audition) hearChosen();
}

/** In place of the song's drums, or alone. */
export function toggleInPlace(): void {
  const { hear, audition: heard } = useWorkbench.getState();
  setHear(hear === 'song' ? 'pattern' : 'song');
  if (heard) hearChosen();
}

const WAITS: readonly Audition['wait'][] = ['bar', 'beat', 'none'];

/** Measures the kick alone against the guide, or accents too. */
export function toggleFitBy(): void {
  set({ fitBy: get().fitBy === 'kick' ? 'kick and accents' : 'kick' });
}

export function nextWait(): void {
  const { wait } = get();
  set({ wait: WAITS[(WAITS.indexOf(wait) + 1) % WAITS.length] });
}

export function grooveById(id: string | undefined): Groove | undefined {
  const groove = get().grooves.find((other) => other.id === id);
  return groove && namedGroove(groove, get().remarks.get(groove.id));
}

/** Whether a groove was kept for the song that is open. */
export function isKept(song: Song, id: string): boolean {
  return song.patterns.some(({ groove }) => groove?.id === id);
}

export function setTab(tab: Gathering['tab']): void {
  set({ tab });
}

/** Rows that a reading of files brought. */
export function addGrooves(rows: readonly Groove[]): void {
  if (rows.length > 0) set(({ grooves }) => ({ grooves: [...grooves, ...rows] }));
}

/** Rows whose files were read again: they sound as they are read now. */
export function replaceGrooves(rows: readonly Groove[]): void {
  const fresh = new Map(rows.map((row) => [row.id, row]));
  for (const id of fresh.keys()) cache.delete(id);
  const { grooves } = get();
  const there = new Set(grooves.map(({ id }) => id));
  set({ grooves: grooves.map((row) => fresh.get(row.id) ?? row) });
  addGrooves(rows.filter(({ id }) => !there.has(id)));
  const { chosen } = get();
  if (chosen && fresh.has(chosen)) void chooseGroove(chosen, false);
}
