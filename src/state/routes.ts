import { goTo, songPath } from './addresses';
import { useWorkbench, type Stage } from './store';

export * from './addresses';

/** Goes to a stage of the open song. */
export function goToStage(stage: Stage): void {
  const { songId } = useWorkbench.getState();
  if (songId) goTo(songPath(songId, stage));
}
