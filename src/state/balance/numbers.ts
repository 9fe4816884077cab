import {
  READY_MAPS,
  strokeKey,
  withNote,
  withReading,
  type NoteMap,
  type Stroke,
} from '@/core/model';
import { readNoteMap, writeNoteMap, type NoteMapForm } from '@/core/midi';
import { fileName } from '@/core/names';
import { closeDialog, openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { editOrSay } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';

/** Opens the note map of the song. */
export function openNumbers(): void {
  openDialog('numbers');
}

export function closeNumbers(): void {
  useWorkbench.setState({ learning: undefined });
  closeDialog();
}

function setMap(map: NoteMap): boolean {
  return editOrSay({ type: 'set note map', map }, 'note map');
}

/** Has the song's strokes go out as one of the maps that are ready. */
export function chooseMap(name: string): void {
  const map = READY_MAPS.find((one) => one.name === name);
  if (map) setMap(map);
}

export function setNote(stroke: Stroke, note: number): void {
  setMap(withNote(openSongNow().noteMap, stroke, note));
}

/** Waits for a note of a controller, to be read as this stroke; a second press waits no longer. */
export function learn(stroke: Stroke): void {
  const { learning } = useWorkbench.getState();
  const same = learning && strokeKey(learning) === strokeKey(stroke);
  useWorkbench.setState({ learning: same ? undefined : stroke });
}

/** Takes a struck note for the stroke that waits for one. @returns whether one waited */
export function learnNote(note: number): boolean {
  const { learning } = useWorkbench.getState();
  if (!learning) return false;
  useWorkbench.setState({ learning: undefined });
  setMap(withReading(openSongNow().noteMap, note, learning));
  return true;
}

const TYPES: Readonly<Record<NoteMapForm, string>> = {
  txt: 'text/plain',
  csv: 'text/csv',
  midnam: 'application/xml',
};

/** Lets the user keep the note map as a file. */
export function saveNumbers(form: NoteMapForm): void {
  const { noteMap, kit } = openSongNow();
  platform.saveFile(writeNoteMap(noteMap, kit, form), fileName(noteMap.name, form), TYPES[form]);
}

/** Reads a note map from a file. What it names that the kit has not is said. */
export async function loadNumbers(): Promise<void> {
  const file = await platform.chooseOne(['.midnam', '.csv', '.txt', '.xml']);
  if (!file) return;
  const read = readNoteMap(await file.text(), file.name, openSongNow().kit);
  if (typeof read === 'string') return notify(read, 'error');
  if (!setMap(read.map)) return;
  const count = Object.keys(read.map.notes).length;
  const left =
    read.left.length > 0
      ? ` ${read.left.length === 1 ? 'One name means' : `${read.left.length} names mean`} nothing to this kit: ${read.left.slice(0, 3).join(', ')}.`
      : '';
  notify(
    `“${read.map.name}” has ${count === 1 ? '1 note' : `${count} notes`}; what it lacks goes to the nearest.${left}`,
  );
}
