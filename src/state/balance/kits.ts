import { useLiveQuery } from 'dexie-react-hooks';
import { nanoid } from 'nanoid';
import type { Command } from '@/core';
import { SAMPLE_RATE } from '@/audio/player';
import {
  CHARACTER_IDS,
  DEFAULT_KIT,
  KITS,
  samplesOf,
  type CharacterId,
  type Kit,
} from '@/core/model';
import { fileName } from '@/core/names';
import { hashOfSound } from '@/core/sound';
import { idOfKit, kitOfSounds, nameOfKit, type NoteSound } from '@/core/tracks';
import { hasKitEnding, KIT_FILE_ENDING, readKitFile, writeKitFile } from '@/storage/kitFile';
import { forgetKit, keepKit, keptKits, type KeptKit } from '@/storage/kits';
import { keepSample, samplesHere, storedSamples } from '@/storage/samples';
import { Ended, readFontAside } from '@/workers';
import { notify, sayUntil } from '../notices/notices';
import { platform } from '../platform';
import { cancelGesture, edit, editOrSay, preview } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';

/** A kit that can be heard and taken: one whose sounds are computed, or one that was kept. */
export type OfferedKit =
  { id: CharacterId; name: string; kept?: undefined } | { id: string; name: string; kept: KeptKit };

/** The kits there are, those that are computed first. */
export function useKits(): readonly OfferedKit[] {
  const kept = useLiveQuery(() => keptKits().catch(() => []), []) ?? [];
  return [
    ...CHARACTER_IDS.map((id) => ({ id, name: KITS[id].name })),
    ...kept.map((one) => ({ id: one.id, name: one.name, kept: one })),
  ];
}

/** Lists the kits beside the tracks, or closes the list; what was only heard is as it was. */
export function toggleKits(): void {
  cancelGesture();
  useWorkbench.setState(({ kitsOpen }) => ({ kitsOpen: !kitsOpen }));
}

/** A kept kit as a song plays it: by the name and the id it is kept under. */
const asKept = ({ id, name, kit }: KeptKit): Kit => ({ ...kit, name, kept: id });

const commandOf = (offered: OfferedKit): Command =>
  offered.kept
    ? { type: 'take kit', kit: asKept(offered.kept) }
    : { type: 'choose kit', kit: offered.id };

/** Hears the song with a kit. It is not taken: whatever is done next takes it back. */
export function hearKit(offered: OfferedKit): void {
  cancelGesture();
  const why = preview([commandOf(offered)], 'kit', { trying: true });
  if (why && why !== 'That would change nothing.') notify(why, 'error');
}

/** Plays the song with a kit from now on. */
export function takeKit(offered: OfferedKit): void {
  cancelGesture();
  const command = commandOf(offered);
  // A kept kit may have been replaced since: then there is something to take.
  if (!offered.kept && idOfKit(openSongNow().kit) === offered.id)
    return notify(`The kit is “${offered.name}” already.`);
  if (editOrSay(command, 'kit')) notify(`The kit is “${offered.name}”.`);
}

/**
 * Keeps the kit of the song under a name, for other songs; one of that name is replaced. The song plays the kept one
 * from then on.
 */
export async function keepThisKit(name: string): Promise<void> {
  const called = name.trim().slice(0, 120);
  if (!called) return notify('Give the kit a name first.', 'error');
  const before = (await keptKits()).find((one) => one.name === called);
  const { songId } = useWorkbench.getState();
  const { kept: _, ...own } = openSongNow().kit;
  const kept: KeptKit = {
    id: before?.id ?? nanoid(8),
    name: called,
    kit: { ...own, name: called },
  };
  if (!(await keepOrSay(kept))) return;
  // Meanwhile another song may have been opened.
  if (useWorkbench.getState().songId === songId)
    edit({ type: 'take kit', kit: asKept(kept) }, 'kit');
  notify(`The kit is kept as “${called}”${before ? ', in place of the one before' : ''}.`);
}

async function keepOrSay(kept: KeptKit): Promise<boolean> {
  try {
    await keepKit(kept);
    return true;
  } catch {
    notify('The kit could not be kept: this browser’s storage is full or closed.', 'error');
    return false;
  }
}

/** Gives a kept kit another name; the song that plays it calls it so too. */
export async function renameKit(kept: KeptKit, name: string): Promise<void> {
  const renamed: KeptKit = { ...kept, name, kit: { ...kept.kit, name } };
  if (!(await keepOrSay(renamed))) return;
  const { gesture } = useWorkbench.getState();
  // A kit that is only being heard goes on being heard, and is not taken by this.
  if (gesture?.trying)
    preview([{ type: 'take kit', kit: asKept(renamed) }], 'kit', { trying: true });
  else if (openSongNow().kit.kept === kept.id) {
    edit(
      { type: 'take kit', kit: asKept({ ...renamed, kit: openSongNow().kit }) },
      'name of the kit',
    );
  }
}

/** Takes a kit off the list. Songs that play it keep it. */
export async function forgetKept({ id, name, kit }: KeptKit): Promise<void> {
  await forgetKit(id);
  notify(`“${name}” is no longer kept; songs that play it keep it.`, 'info', {
    label: 'keep it again',
    run: () => void keepOrSay({ id, name, kit }),
  });
}

/** Lets the user keep a kit with its sound files as a file; without a name, that of the song. */
export async function saveKitFile(kit: Kit = openSongNow().kit): Promise<void> {
  const wanted = samplesOf(kit);
  const samples = await storedSamples(wanted);
  const name = nameOfKit(kit);
  platform.saveFile(
    writeKitFile({ ...kit, name }, samples) as Uint8Array<ArrayBuffer>,
    fileName(name, KIT_FILE_ENDING),
    'application/zip',
  );
  const missing = wanted.length - samples.length;
  if (missing > 0)
    notify(
      `${missing === 1 ? 'One sound file is' : `${missing} sound files are`} not here and not in the file.`,
    );
}

/** Opens a file with a kit and keeps the kit: one of ours, or the drums of a SoundFont. */
export async function openKitFile(): Promise<void> {
  const file = await platform.chooseOne(['.zip', '.sf2']);
  if (file) await receiveKit(file);
}

/** Whether a file is called as one with a kit. */
export const isKitFile = (name: string) => isSoundFont(name) || hasKitEnding(name);

/** Reads a file with a kit. */
export async function receiveKit(file: File): Promise<void> {
  if (isSoundFont(file.name)) await readFont(file);
  else await readKit(file);
}

/** The largest SoundFont that is read, in bytes. */
const LARGEST_FONT = 1024 ** 3;

const isSoundFont = (name: string) => name.toLowerCase().endsWith('.sf2');

/** Reads the drum kits of a SoundFont 2 file and keeps each, under its name there. */
async function readFont(file: File): Promise<void> {
  if (file.size > LARGEST_FONT) return notify(`“${file.name}” is larger than 1 GB.`, 'error');
  const notes = DEFAULT_KIT.pieces.flatMap(({ articulations }) =>
    articulations.map((way) => way.note),
  );
  const { result, cancel } = readFontAside(file, [...new Set(notes)], SAMPLE_RATE);
  sayUntil(`The drums of “${file.name}” are being read.`, result, cancel);
  const read = await result.catch((error) =>
    error instanceof Ended
      ? undefined
      : 'could not be read to its end, and no kit was kept. It may ask for more memory than there is.',
  );
  if (!read) return notify(`“${file.name}” is not read: that was cancelled. No kit was kept.`);
  if (typeof read === 'string') return notify(`“${file.name}” ${read}`, 'error');
  const names: string[] = [];
  for (const font of read.kits) {
    const sounds: NoteSound[] = [];
    for (const { pcm, ...sound } of font.sounds) {
      const hash = await hashOfSound(pcm);
      try {
        await keepSample({ hash, name: sound.name, ...pcm });
      } catch {
        return notify(
          `“${font.name}” could not be kept: this browser’s storage is full or closed.`,
          'error',
        );
      }
      sounds.push({ ...sound, hash });
    }
    if (sounds.length === 0) continue;
    // Many banks call their kit “Standard”: which bank it is of tells them apart.
    const name = await freeName(read.name ? `${font.name}, ${read.name}`.slice(0, 120) : font.name);
    if (!(await keepOrSay({ id: nanoid(8), name, kit: kitOfSounds(name, sounds) }))) return;
    names.push(`“${name}”`);
  }
  if (names.length === 0)
    return notify(`No drum of “${file.name}” is on a note of the kit.`, 'error');
  notify(
    `${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}: kept in the list of kits.`,
  );
  if (read.left > 0) {
    notify(
      `At least ${read.left === 1 ? 'one sound' : `${read.left} sounds`} of “${file.name}” ${read.left === 1 ? 'is' : 'are'} left out: a note has more layers, or the file longer sounds, than a drum kit needs.`,
      'error',
    );
  }
}

/** Reads a file with a kit and keeps the kit with its sounds. */
async function readKit(file: File): Promise<void> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const read = await readKitFile(bytes, file.name, samplesHere);
  if (typeof read === 'string') return notify(read, 'error');
  try {
    for (const sound of read.sounds) await keepSample(sound);
  } catch {
    notify(
      'The sounds of the kit could not be kept: this browser’s storage is full or closed.',
      'error',
    );
    return;
  }
  for (const problem of read.problems) notify(problem, 'error');
  const name = await freeName(read.kit.name);
  const { kept: _, ...kit } = read.kit;
  const kept = { id: nanoid(8), name, kit: { ...kit, name } };
  if (!(await keepOrSay(kept))) return;
  notify(`“${name}” is kept, and heard when it is chosen in the list of kits.`);
}

async function freeName(name: string): Promise<string> {
  const taken = new Set((await keptKits()).map((one) => one.name));
  if (!taken.has(name)) return name;
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`)) return `${name} ${n}`;
}
