import type { PlannedFile, SoundForm } from '@/core/deliver';
import { samplesOf, type Song } from '@/core/model';
import { readSamples } from '@/storage/samples';
import { writeAudioAside } from '@/workers';
import { useWorkbench } from '../store';
import type { Heard } from './slice';

/** More than this is not listened to before it is wished for, in seconds of sound. */
const MOST = 20 * 60;
/** So long nothing is changed before it is listened to, in milliseconds. */
const SETTLED = 700;

let listening: { end(): void } | undefined;

/** Stops listening to what is planned; what was heard stays. */
export function stopForetelling(): void {
  listening?.end();
  listening = undefined;
}

/** Listens to files of sound before they are written: how loud they come out is in the table by and by. */
export function foretell(song: Song, planned: readonly PlannedFile[], sound: SoundForm): void {
  stopForetelling();
  useWorkbench.setState({ foretold: new Map() });
  const files = planned.filter(({ audio }) => audio);
  const seconds = files.reduce((sum, one) => sum + one.seconds, 0);
  if (files.length === 0 || seconds > MOST) return;
  let ended = false;
  let end = () => {};
  const settled = setTimeout(() => void listen(), SETTLED);
  listening = {
    end() {
      ended = true;
      clearTimeout(settled);
      end();
    },
  };

  async function listen(): Promise<void> {
    const samples = await readSamples(samplesOf(song.kit)).catch(() => undefined);
    if (ended || !samples) return;
    const parts = files.map(({ audio }) => audio!);
    const work = writeAudioAside(parts, sound, samples, 'nowhere', undefined, (i, written) => {
      if (ended) return;
      const { frames, blob: _, ...told } = written;
      const heard: Heard = { seconds: frames / sound.rate, ...told };
      useWorkbench.setState(({ foretold }) => ({
        foretold: new Map(foretold).set(files[i].path, heard),
      }));
    });
    end = work.end;
    // What cannot be foretold is said once it is written.
    await work.result.catch(() => {});
    work.end();
  }
}
