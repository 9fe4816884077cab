import { create } from 'zustand';
import { DEMO_PREFIX } from '@/demo';
import { laidPlaces, placeName } from '@/core/weave';
import { isTourShown, noteTourShown } from '@/storage/settings';
import { withinPatience } from '@/storage/failures';
import { listSongs } from '@/storage/songs';
import { goToSong } from '../routes';
import { useWorkbench } from '../store';
import { selectPlace } from '../weave/choosing';

/** Whether the tour is to be shown now. */
export const useTour = create<{ shown: boolean }>(() => ({ shown: false }));

/** The song that a first visit opens, and the place of it that shows most: what changes, what is linked, a fill. */
const FIRST_SONG = `${DEMO_PREFIX}saltmarsh`;
const FIRST_PLACE = 'chorus 2';

/** Opens the demo where it shows most. Called once at the first visit of a browser, when its songs are there. */
export async function openFirst(): Promise<void> {
  if (await withinPatience(isTourShown()).catch(() => true)) return;
  // Who has songs of their own was here before.
  const songs = await withinPatience(listSongs()).catch(() => []);
  if (songs.some(({ id }) => !id.startsWith(DEMO_PREFIX))) return;
  await showTour();
}

/** Shows the tour, in the demo. */
export async function showTour(): Promise<void> {
  await withinPatience(noteTourShown()).catch(() => {});
  goToSong(FIRST_SONG, 'weave');
  const stop = useWorkbench.subscribe(({ history, stage }) => {
    if (history?.song.id !== FIRST_SONG || stage !== 'weave') return;
    stop();
    const { song } = history;
    const place = laidPlaces(song).find((laid) => placeName(song, laid) === FIRST_PLACE);
    selectPlace((place ?? laidPlaces(song)[0])?.place.id);
    useTour.setState({ shown: true });
  });
  // It may be open already.
  useWorkbench.setState({});
}

export function endTour(): void {
  useTour.setState({ shown: false });
}
