import { zipSync, strToU8, type Zippable } from 'fflate';
import { nanoid } from 'nanoid';
import { exportMidi, type Pattern } from '@/core';
import { grooveOfPattern, type Groove } from '@/core/library';
import { songWith, type PatternKind } from '@/core/model';
import { fileName, inOne, pathsOf } from '@/core/names';
import { onUsualKit } from '@/core/pattern';
import { Lost, writeTab } from '@/core/tab';
import * as library from '@/storage/library/library';
import { whyNot, withinPatience } from '@/storage/failures';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { addGrooves, chooseGroove, grooveById, openLibrary, patternsOf, useGather } from './gather';

export { isOwnPattern } from '@/storage/library/library';

/** What a pattern is found by in the library. */
export interface Placing {
  name: string;
  family: string;
  kind: PatternKind;
  tags: readonly string[];
}

/** The family of patterns that are put into the library without saying another one. */
export const OWN_FAMILY = 'My grooves';

/** Asks what a pattern of the song is to be found by in the library. */
export function askToPut(id = shownPattern(useWorkbench.getState())?.id): void {
  if (!id) return notify('Show a pattern first: it is the one that is put into the library.');
  void openLibrary();
  useWorkbench.setState({ putting: { pattern: id } });
  openDialog('library');
}

/** Asks what a pattern of the library is to be found by from now on. */
export function askToChange(id = useGather.getState().chosen): void {
  if (!id || !library.isOwnPattern(id)) {
    return notify('Only patterns that you put into the library can be changed there.');
  }
  useWorkbench.setState({ putting: { groove: id } });
  openDialog('library');
}

/** The row of a pattern as it is listed. */
function rowOf(id: string, pattern: Pattern, { name, family, kind, tags }: Placing): Groove {
  const { bpm } = openSongNow();
  const row = grooveOfPattern({ ...pattern, name, kind }, bpm, { id, family });
  return { ...row, ...(tags.length > 0 && { tags: [...tags] }) };
}

/** A pattern as it is kept in the library: as music, not as what it is in its song. */
function inLibrary(pattern: Pattern, { name, kind }: Placing): Pattern {
  const { dye: _, groove: __, stars: ___, notes: ____, joined: _____, ...rest } = pattern;
  return { ...rest, name, kind, id: 'own', dye: 0 };
}

/** Puts a pattern of the song into one's own library. @returns whether it is there */
export async function putIntoLibrary(of: Pattern, placing: Placing): Promise<boolean> {
  // Every song finds it: it is on pieces that every kit has.
  const pattern = onUsualKit(of, openSongNow().kit);
  const id = `own/pattern/${nanoid(10)}`;
  const row = rowOf(id, pattern, placing);
  const twin = useGather.getState().grooves.find(({ identity }) => identity === row.identity);
  if (twin) {
    notify(`These hits are in the library already, as “${grooveById(twin.id)!.name}”.`, 'error');
    return false;
  }
  if (!(await stored(() => library.putOwnPattern(row, inLibrary(pattern, placing))))) return false;
  addGrooves([row]);
  notify(`“${placing.name}” is in the library, in “${placing.family}”: every song finds it.`);
  return true;
}

async function stored(write: () => Promise<unknown>): Promise<boolean> {
  try {
    await withinPatience(write());
    return true;
  } catch (error) {
    notify(whyNot(error), 'error');
    return false;
  }
}

/** Says anew what a pattern of one's own library is found by. */
export async function changeInLibrary(id: string, placing: Placing): Promise<boolean> {
  const before = useGather.getState().grooves.find((groove) => groove.id === id);
  const [pattern] = await patternsOf(id);
  if (!before || !pattern) return false;
  const { name, family, kind, tags } = placing;
  const { tags: _, ...rest } = before;
  const row = { ...rest, name, family, kind, ...(tags.length > 0 && { tags: [...tags] }) };
  if (!(await stored(() => library.putOwnPattern(row, { ...pattern, name, kind })))) return false;
  // What was said of it in the list before holds no more.
  const { remarks } = useGather.getState();
  const remark = remarks.get(id);
  if (remark?.name || remark?.kind) {
    const { name: _name, kind: _kind, ...left } = remark;
    useGather.setState({ remarks: new Map(remarks).set(id, left) });
    await stored(() => library.saveRemark(left));
  }
  useGather.setState(({ grooves }) => ({
    grooves: grooves.map((groove) => (groove.id === id ? row : groove)),
  }));
  return true;
}

/** Takes a pattern out of one's own library; what songs kept of it stays. */
export async function takeOutOfLibrary(id = useGather.getState().chosen): Promise<void> {
  const row = useGather.getState().grooves.find((groove) => groove.id === id);
  if (!id || !row || !library.isOwnPattern(id)) {
    return notify('Only patterns that you put into the library can be taken out of it.');
  }
  const [pattern] = await patternsOf(id);
  if (!(await stored(() => library.dropOwnPattern(id)))) return;
  useGather.setState(({ grooves }) => ({ grooves: grooves.filter((groove) => groove.id !== id) }));
  const putBack = async () => {
    if (!(await stored(() => library.putOwnPattern(row, pattern)))) return;
    addGrooves([row]);
    void chooseGroove(id, false);
  };
  notify(`“${row.name}” is out of the library. What songs kept of it stays.`, 'info', {
    label: 'put it back',
    run: () => void putBack(),
  });
}

export const FAMILY_FORMS = ['MIDI files', 'tablature'] as const;
export type FamilyForm = (typeof FAMILY_FORMS)[number];

/** Saves the family of the chosen groove as a folder of files, in a zip. */
export async function saveFamily(form: FamilyForm): Promise<void> {
  const chosen = grooveById(useGather.getState().chosen);
  if (!chosen) return notify('Choose a groove first: its whole family is saved.');
  const { family } = chosen;
  const rows = useGather.getState().grooves.filter((groove) => groove.family === family);
  const found: { file: string; bytes: Uint8Array }[] = [];
  const lost = new Lost();
  let unread = 0;
  for (const row of rows) {
    const [pattern] = await patternsOf(row.id);
    if (!pattern) {
      unread++;
      continue;
    }
    const { name, kind, bpm } = grooveById(row.id)!;
    const said = { ...pattern, name, kind };
    const file = `${inOne(family)}/${inOne(name)}`;
    if (form === 'MIDI files') {
      const song = songWith({ id: 'x', name, bpm }, [said]);
      found.push({ file, bytes: exportMidi(song, { pattern: said.id }) });
    } else {
      const tab = writeTab(said);
      lost.addAll(tab.lost);
      found.push({ file, bytes: strToU8(tab.text) });
    }
  }
  const ending = form === 'MIDI files' ? 'mid' : 'tab';
  const paths = pathsOf(found.map(({ file }) => ({ file, ending })));
  const files: Zippable = Object.fromEntries(found.map(({ bytes }, i) => [paths[i], bytes]));
  const name = fileName(family, 'zip');
  platform.saveFile(zipSync(files) as BlobPart, name, 'application/zip');
  const count = Object.keys(files).length;
  notify(
    [
      `“${name}” holds ${count === 1 ? '1 groove' : `${count} grooves`} of “${family}”.`,
      lost.said(),
      unread > 0 ? `${unread} could not be read.` : '',
    ]
      .filter(Boolean)
      .join(' '),
  );
}
