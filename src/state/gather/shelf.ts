import { nanoid } from 'nanoid';
import { findPattern, type Command } from '@/core';
import { laidPlaces, placeName, placesOf, usesOf } from '@/core/weave';
import { openDialog } from '../dialogs/dialogs';
import { edit, editOrSay } from '../session/edit';
import { notify } from '../notices/notices';
import { showPattern } from '../shape/shape';
import { openSongNow, shownPattern, useWorkbench } from '../store';

/** Joins patterns of the shelf end to end into a new one, which remembers them. */
export function joinChosen(ids: readonly string[]): void {
  const song = openSongNow();
  const names = ids.flatMap((id) => findPattern(song, id)?.name ?? []);
  const command: Command = {
    type: 'join patterns',
    ids,
    newId: nanoid(8),
    name: names.slice(0, 3).join(' + '),
  };
  if (editOrSay(command)) notify(`“${command.name}” is on the shelf.`);
}

/** Lays patterns of one length over each other, as the tracks of one kit, into a new one. */
export function layTogether(ids: readonly string[]): void {
  const song = openSongNow();
  const names = ids.flatMap((id) => findPattern(song, id)?.name ?? []);
  const command: Command = {
    type: 'merge',
    ids,
    newId: nanoid(8),
    name: commonName(names),
  };
  if (editOrSay(command)) notify(`“${command.name}” is on the shelf, with all of their hits.`);
}

/** What names have in common before their last comma, or the first few of them. */
function commonName(names: readonly string[]): string {
  const heads = new Set(names.map((name) => name.replace(/, [^,]*$/, '')));
  const [head] = heads;
  return heads.size === 1 && head ? head : names.slice(0, 3).join(' with ');
}

/** Puts the pieces of a joined pattern back on the shelf. */
export function takeApart(id: string): void {
  editOrSay({ type: 'take apart', id });
}

/** Puts a pattern before or behind another one on the shelf. */
export function movePatternTo(id: string, other: string, spot: 'before' | 'behind'): void {
  const rest = openSongNow().patterns.filter((pattern) => pattern.id !== id);
  const at = rest.findIndex((pattern) => pattern.id === other);
  if (at >= 0) edit({ type: 'move pattern', id, to: spot === 'before' ? at : at + 1 });
}

/** Puts a pattern where another one is on the shelf; the others make room. */
export function movePatternOver(id: string, other: string): void {
  const to = openSongNow().patterns.findIndex((pattern) => pattern.id === other);
  if (to >= 0 && id !== other) edit({ type: 'move pattern', id, to });
}

/** Takes the pattern that is shown out of the song. */
export function removeShown(): void {
  const shown = shownPattern(useWorkbench.getState());
  if (shown) askToSetAside(shown.id);
}

/** Takes a pattern out of the song; where the song plays it, that is said first, and asked. */
export function askToSetAside(id: string): void {
  if (usesOf(openSongNow(), id) === 0) return setAside(id);
  useWorkbench.setState({ removing: id });
  openDialog('remove');
}

/** Takes a pattern out of the song and keeps it among the offcuts, with where it was played. */
export function setAside(id: string): void {
  const shown = shownPattern(useWorkbench.getState());
  const used = usesOf(openSongNow(), id) > 0;
  const name = findPattern(openSongNow(), id)?.name;
  if (!editOrSay({ type: 'set aside', id })) return;
  if (shown?.id === id) showPattern(openSongNow().patterns[0].id);
  const back = used ? ': recovered, it is played again where it was.' : '.';
  notify(`“${name}” lies among the offcuts${back}`);
}

/** Where the song plays a pattern: "chorus (3 places)", "verse". */
export function saidUses(id: string): string[] {
  const song = openSongNow();
  const playing = song.sections.filter(({ spans }) => spans.some(({ pattern }) => pattern === id));
  const sections = playing.map((section) => {
    const count = placesOf(song, section.id);
    return count > 1 ? `${section.name} (${count} places)` : section.name;
  });
  const here = laidPlaces(song).filter(
    ({ place, section }) =>
      !playing.includes(section) && place.overlay.some(({ pattern }) => pattern === id),
  );
  return [...sections, ...here.map((laid) => placeName(song, laid))];
}
