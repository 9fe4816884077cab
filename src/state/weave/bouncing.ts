import { nanoid } from 'nanoid';
import { SAMPLE_RATE } from '@/audio/player';
import type { Command } from '@/core';
import { bouncedName, bouncePart, type Bounce, type BouncePart } from '@/core/bounce';
import type { SoundForm } from '@/core/deliver';
import { samplesOf, type Song } from '@/core/model';
import { hashOfSound } from '@/core/sound';
import { keepSample, readSamples } from '@/storage/samples';
import { pcmOf } from '@/storage/soundParts';
import { writeAudioAside } from '@/workers';
import { closeDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { editAllOrSay, undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { chosenPlaces } from './choosing';

/** As it is kept: every sample as it was computed. */
const FORM: SoundForm = { kind: 'wav', depth: 'float', rate: SAMPLE_RATE, bitrate: 320 };

let working: { end(): void } | undefined;

/** Calls off what is being rendered; the song stays as it is. */
export function stopBouncing(): void {
  working?.end();
  working = undefined;
  useWorkbench.setState({ bouncing: undefined });
}

/** What is rendered of the chosen places; or why nothing is. Places where nothing is struck are passed over. */
function partsOf(song: Song, track: string | undefined): Part[] | string {
  const of = chosenPlaces().map((place) => ({ place, ...(track !== undefined && { track }) }));
  const made = of.map((one) => ({ of: one, made: bouncePart(song, one) }));
  const parts = made.flatMap(({ of: one, made: part }): Part[] =>
    typeof part === 'string' ? [] : [{ ...part, of: one }],
  );
  const why = made.find((one) => typeof one.made === 'string')?.made as string | undefined;
  return parts.length > 0 ? parts : (why ?? 'Choose a section first: press its header.');
}

type Part = BouncePart & { of: Pick<Bounce, 'place' | 'track'> };

/**
 * Makes sounds of the chosen places, or of a track in them: each is rendered, kept, and played there instead. One
 * step of undo.
 * @param track of the layout in use; absent is all
 */
export async function bounceHere(track?: string): Promise<void> {
  if (working) return;
  const { songId } = useWorkbench.getState();
  const song = openSongNow();
  const parts = partsOf(song, track);
  if (typeof parts === 'string') return notify(parts, 'error');
  let ended = false;
  working = { end: () => (ended = true) };
  useWorkbench.setState({ bouncing: 0 });
  try {
    const samples = await readSamples(samplesOf(song.kit));
    if (ended) return;
    const sounds = parts.map(({ part }) => part);
    const writing = writeAudioAside(sounds, FORM, samples, 'memory', (_, share) => {
      if (!ended) useWorkbench.setState({ bouncing: share });
    });
    const calledOff = new Promise<undefined>((done) => {
      working = {
        end() {
          ended = true;
          writing.end();
          done(undefined);
        },
      };
    });
    const written = await Promise.race([writing.result, calledOff]);
    writing.end();
    if (ended || !written) return;
    const commands: Command[] = [];
    for (const [i, { of, lead }] of parts.entries()) {
      const pcm = pcmOf(new Uint8Array(await written[i].blob!.arrayBuffer()))!;
      const hash = await hashOfSound(pcm);
      await keepSample({ hash, name: bouncedName(song, of), ...pcm });
      const frames = pcm.left.length;
      commands.push({ type: 'bounce', id: nanoid(8), ...of, hash, frames, lead });
    }
    if (ended || useWorkbench.getState().songId !== songId) return;
    if (!editAllOrSay(commands, 'bounce')) return;
    closeDialog();
    const said =
      parts.length === 1
        ? `“${bouncedName(song, parts[0].of)}” is a sound now: it plays here`
        : `${parts.length} sections are sounds now: they play`;
    notify(`${said} instead, what was there lies under it.`, 'info', {
      label: 'take back',
      run: undo,
    });
  } catch {
    notify(
      'It could not be rendered or kept: this browser’s storage is full or closed. Free some room in the list of songs, and try again.',
      'error',
    );
  } finally {
    if (!ended) stopBouncing();
  }
}
