import { STAGES, useWorkbench, type Stage } from './store';
import { audition, setHear } from './transport/transport';

let push: (path: string) => void = () => {};

/** The shell gives the router here, so that commands can go places. */
export function setNavigator(navigate: (path: string) => void): void {
  push = navigate;
}

export function songPath(id: string, stage: Stage = 'shape'): string {
  return `/song/${id}/${stage}`;
}

export function goToSongs(): void {
  push('/');
}

export function goToSong(id: string, stage?: Stage): void {
  push(songPath(id, stage));
}

export function goToStage(stage: Stage): void {
  const { songId } = useWorkbench.getState();
  if (songId) push(songPath(songId, stage));
}

export function isStage(value: string): value is Stage {
  return (STAGES as readonly string[]).includes(value);
}

/** Says which stage is on screen. What is heard follows, unless something plays already. */
export function enterStage(stage: Stage): void {
  const { playing, stage: before } = useWorkbench.getState();
  useWorkbench.setState({ stage });
  if (stage !== 'gather' && before === 'gather') audition(undefined);
  if (!playing) setHear(stage === 'shape' ? 'pattern' : 'song');
}
