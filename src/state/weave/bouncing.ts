import { nanoid } from 'nanoid';
import { SAMPLE_RATE } from '@/audio/player';
import { bouncedName, bouncePart } from '@/core/bounce';
import { wavHeaderBytes, type SoundForm } from '@/core/deliver';
import { samplesOf } from '@/core/model';
import { hashOfSound, type Pcm } from '@/core/sound';
import { keepSample, readSamples } from '@/storage/samples';
import { writeAudioAside } from '@/workers';
import { closeDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { editOrSay, undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';

/** As it is kept: every sample as it was computed. */
const FORM: SoundForm = { kind: 'wav', depth: 'float', rate: SAMPLE_RATE, bitrate: 320 };

let working: { end(): void } | undefined;

/** Calls off what is being rendered; the song stays as it is. */
export function stopBouncing(): void {
  working?.end();
  working = undefined;
  useWorkbench.setState({ bouncing: undefined });
}

/**
 * Makes a sound of the chosen place, or of a track in it: it is rendered, kept, and played there instead.
 * @param track of the layout in use; absent is all
 */
export async function bounceHere(track?: string): Promise<void> {
  if (working) return;
  const { placeId = '', songId } = useWorkbench.getState();
  const song = openSongNow();
  const of = { place: placeId, ...(track !== undefined && { track }) };
  const made = bouncePart(song, of);
  if (typeof made === 'string') return notify(made, 'error');
  let ended = false;
  working = { end: () => (ended = true) };
  useWorkbench.setState({ bouncing: 0 });
  try {
    const samples = await readSamples(samplesOf(song.kit));
    if (ended) return;
    const writing = writeAudioAside([made.part], FORM, samples, 'memory', (_, share) => {
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
    const blob = written?.[0].blob;
    if (ended || !blob) return;
    const pcm = samplesIn(await blob.arrayBuffer());
    const hash = await hashOfSound(pcm);
    const name = bouncedName(song, of);
    await keepSample({ hash, name, ...pcm });
    if (ended || useWorkbench.getState().songId !== songId) return;
    const frames = pcm.left.length;
    const id = nanoid(8);
    if (!editOrSay({ type: 'bounce', id, ...of, hash, frames, lead: made.lead }, 'bounce')) return;
    closeDialog();
    notify(`“${name}” is a sound now: it plays here instead, what it was lies under it.`, 'info', {
      label: 'take it back',
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

/** The samples of a WAV file in floating point, as it is written here. */
function samplesIn(bytes: ArrayBuffer): Required<Pcm> {
  const both = new Float32Array(bytes, wavHeaderBytes);
  const left = Float32Array.from({ length: both.length / 2 }, (_, i) => both[2 * i]);
  const right = Float32Array.from(left, (_, i) => both[2 * i + 1]);
  return { left, right };
}
