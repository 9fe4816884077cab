import { nanoid } from 'nanoid';
import type { Command, Offcut, Pattern } from '@/core';
import type { Groove } from '@/core/library';
import { nextDye, type GrooveRef } from '@/core/model';
import { sameMusic } from '@/core/pattern';
import * as library from '@/storage/library/library';
import type { GrooveRemark } from '@/storage/library/library';
import { notify } from '../notices/notices';
import { edit } from '../session/edit';
import { openSongNow } from '../store';
import {
  andGoOn,
  chosenPattern,
  goToGroove,
  grooveById,
  isKept,
  listedNow,
  patternsOf,
  useGather,
} from './gather';
import { passedId } from './listing';

const set = useGather.setState;
const get = useGather.getState;

function refOf({ id, name, family }: Groove): GrooveRef {
  return { id, name, family };
}

/** A pattern of a groove as it goes onto the shelf of a song: with its notes, stars and a dye. */
function onShelf(pattern: Pattern, groove: Groove, dye: number): Pattern {
  const { stars, note } = get().remarks.get(groove.id) ?? {};
  return {
    ...pattern,
    id: nanoid(8),
    name:
      get().partsOf === groove.id && (get().parts.length > 1 || get().bars)
        ? pattern.name
        : groove.name,
    kind: groove.kind,
    dye,
    groove: refOf(groove),
    ...(stars && { stars }),
    ...(note && { notes: note }),
  };
}

/** Keeps the chosen groove for the song and goes on to the next one. */
export async function keepChosen(): Promise<void> {
  const groove = grooveById(get().chosen);
  if (!groove) return notify('Choose a groove first: arrow keys go through the list.');
  const here = chosenPattern();
  // Hits that are still on their way do not hold up the next key: the choice goes on at once.
  const coming = here ? undefined : patternsOf(groove.id);
  if (coming) goToGroove(1);
  const pattern = here ?? (await coming!)[0];
  if (!pattern) return notify(`The hits of “${groove.name}” could not be read.`, 'error');
  const song = openSongNow();
  if (isKept(song, groove.id) && !(here && (get().parts.length > 1 || get().bars))) {
    notify(`“${groove.name}” is on the shelf already.`);
    if (here) goToGroove(1);
    return;
  }
  const commands: Command[] = [
    { type: 'add pattern', value: onShelf(pattern, groove, nextDye(song)) },
    { type: 'recover', id: passedId(groove.id) },
  ];
  if (edit(commands, `keep ${groove.name}`) && here) goToGroove(1);
}

/** Keeps all parts of the chosen file at once, those that are on the shelf already left out. */
export function keepParts(): void {
  const { chosen, parts, partsOf } = get();
  const groove = grooveById(chosen);
  if (!groove || partsOf !== chosen || parts.length < 2) {
    return notify('This groove is of one part: keep it as it is.');
  }
  let song = openSongNow();
  const fresh = parts.filter((part) => !song.patterns.some((other) => sameMusic(other, part)));
  const commands = fresh.slice(0, MOST_KEPT).map((part): Command => {
    const value = { ...onShelf(part, groove, nextDye(song)), name: part.name };
    song = { ...song, patterns: [...song.patterns, value] };
    return { type: 'add pattern', value };
  });
  if (commands.length === 0 || !edit(commands, `keep all of ${groove.name}`)) {
    return notify(`All parts of “${groove.name}” are on the shelf already.`);
  }
  const rest = fresh.length - commands.length;
  notify(
    `${commands.length === 1 ? '1 part' : `${commands.length} parts`} of “${groove.name}” put onto the shelf${rest > 0 ? `; ${rest} more at the next press` : ''}.`,
  );
}

/** Keeps every groove of the chosen one's family that the list shows and that is not kept yet. */
export async function keepFamily(): Promise<void> {
  const chosen = grooveById(get().chosen);
  if (!chosen) return notify('Choose a groove first: its whole family is kept.');
  const shown = listedNow().list.filter(({ family: name }) => name === chosen.family);
  const family = shown.filter(({ id }) => !isKept(openSongNow(), id));
  if (family.length === 0) {
    return notify(`All of “${chosen.family}” that the list shows is on the shelf already.`);
  }
  if (family.length > MOST_KEPT) {
    return notify(
      `“${chosen.family}” has ${family.length} grooves; at most ${MOST_KEPT} are kept at once. Filter it first, or keep them one by one.`,
      'error',
    );
  }
  const read = await Promise.all(family.map(({ id }) => patternsOf(id)));
  let song = openSongNow();
  const commands = family.flatMap((groove, i): Command[] => {
    const [pattern] = read[i];
    if (!pattern) return [];
    const value = onShelf(pattern, groove, nextDye(song));
    song = { ...song, patterns: [...song.patterns, value] };
    return [{ type: 'add pattern', value }];
  });
  if (commands.length > 0 && edit(commands, `keep the family ${chosen.family}`)) {
    const all = get().grooves.filter(({ family: name }) => name === chosen.family).length;
    const count = commands.length === 1 ? '1 groove' : `${commands.length} grooves`;
    const filtered = shown.length < all ? `, of ${all}: those that the list shows` : '';
    notify(`${count} of “${chosen.family}” put onto the shelf${filtered}.`);
  }
}

const MOST_KEPT = 64;

/** Passes the chosen groove over and goes on to the next one. */
export function passChosen(): void {
  const groove = grooveById(get().chosen);
  if (!groove) return notify('Choose a groove first: arrow keys go through the list.');
  const offcut: Offcut = { id: passedId(groove.id), why: 'passed', groove: refOf(groove) };
  andGoOn(() => edit({ type: 'reject', offcuts: [offcut] }, `reject ${groove.name}`));
}

/** Notes something of the chosen groove; it stays with the groove, and with what is kept of it. */
export function remark(change: Omit<GrooveRemark, 'id'>, id = get().chosen): void {
  if (!id) return;
  const before = get().remarks.get(id);
  const after: GrooveRemark = { ...before, ...change, id };
  set({ remarks: new Map(get().remarks).set(id, after) });
  void library.saveRemark(after).catch(() => {
    notify('This could not be stored: it is noted as long as this tab is open.', 'error');
  });
  const kept = openSongNow().patterns.filter(({ groove }) => groove?.id === id);
  const { stars, note: notes } = change;
  const commands = kept.map(({ id: pattern }): Command => ({
    type: 'remark pattern',
    id: pattern,
    ...('stars' in change && { stars }),
    ...('note' in change && { notes }),
  }));
  if (commands.length > 0) edit(commands, 'note of a pattern');
}

/** Gives the chosen groove stars and goes on; the same number again takes them away. */
export function starChosen(stars: number): void {
  const { chosen, remarks } = get();
  if (!chosen) return notify('Choose a groove first: arrow keys go through the list.');
  andGoOn(() => remark({ stars: remarks.get(chosen)?.stars === stars ? 0 : stars }));
}

/** Brings an offcut back: a removed pattern to the shelf, a passed groove into the list. */
export function recover(id: string): void {
  edit({ type: 'recover', id }, 'recover an offcut');
}
