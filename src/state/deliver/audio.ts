import { audioParts, wavBytes, type AudioPart, type AudioWish } from '@/core/deliver';
import { samplesOf } from '@/core/model';
import { readSamples } from '@/storage/samples';
import { writeAudioAside, type Writing } from '@/workers';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { songBefore } from '../session/edit';
import { fileName } from '../session/fileName';
import { openSongNow, useWorkbench } from '../store';
import type { AudioForm, Handed } from './slice';

export function showHanded(handed: Handed): void {
  useWorkbench.setState({ handed });
}

export function wishAudio(change: Partial<AudioWish>): void {
  useWorkbench.setState(({ audioWish }) => ({
    audioWish: { ...audioWish, ...change },
    handedOver: undefined,
  }));
}

export function formAudio(change: Partial<AudioForm>): void {
  useWorkbench.setState(({ audioForm }) => ({
    audioForm: { ...audioForm, ...change },
    handedOver: undefined,
  }));
}

export function toggleZip(): void {
  useWorkbench.setState(({ audioZip }) => ({ audioZip: !audioZip }));
}

/** About how many bytes a part comes to, without its tail. */
export function bytesOf({ seconds }: AudioPart, { depth, rate }: AudioForm): number {
  return wavBytes(depth, Math.ceil(seconds * rate));
}

let working: Writing | undefined;

/** Writes the files of sound that are wished for, and lets the user keep them. */
export async function writeAudio(): Promise<void> {
  if (working) return notify('Files are being written already.');
  const { audioWish, audioForm, audioZip } = useWorkbench.getState();
  const song = songBefore() ?? openSongNow();
  const parts = audioParts(song, audioWish).filter(
    ({ hits, song: of }) => hits > 0 || of.guides.length > 0,
  );
  if (parts.length === 0) return notify('There is nothing to be heard in this.', 'error');
  const files = await readSamples(samplesOf(song.kit));
  const since = Date.now();
  const say = (part: number, share: number) => {
    const passed = (Date.now() - since) / 1000;
    useWorkbench.setState({ writing: { part, of: parts.length, share, passed } });
  };
  say(0, 0);
  const writing = writeAudioAside(parts, audioForm, files, say);
  working = writing;
  try {
    const written = await writing.result;
    const named = written.map((one) => ({ ...one, name: fileName(one.name, 'wav') }));
    if (named.length > 1 && audioZip) {
      const zip = await writing.zip(named);
      platform.saveFile(zip, fileName(song.name, 'zip'), 'application/zip');
    } else for (const { name, blob } of named) platform.saveFile(blob, name, 'audio/wav');
    useWorkbench.setState({
      handedOver: named.map(({ name, blob, frames, peak }) => ({
        name,
        seconds: frames / audioForm.rate,
        bytes: blob.size,
        peak,
      })),
    });
    notify(
      `${named.length === 1 ? 'One file of sound was' : `${named.length} files of sound were`} written.`,
    );
  } catch {
    // Called off, it has been said already.
    if (working === writing)
      notify(
        'The files could not be written: the browser has no room for them. Write fewer at once.',
        'error',
      );
  } finally {
    writing.end();
    if (working === writing) {
      working = undefined;
      useWorkbench.setState({ writing: undefined });
    }
  }
}

/** Calls off what is being written; nothing of it is left. */
export function stopWriting(): void {
  if (!working) return notify('Nothing is being written.');
  working.end();
  working = undefined;
  useWorkbench.setState({ writing: undefined });
  notify('Called off: no file was written.');
}
