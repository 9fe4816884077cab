import { STAGES, useWorkbench, type Stage } from './store';
import { audition, setHear } from './transport/transport';

/** The ways of a page to go places. */
export interface Navigator {
  /** Goes anywhere; pages that were not visited yet come from the server. */
  push(path: string): void;
  /** Goes to another stage of the same song, which is there already. */
  turn(path: string): void;
}

let navigator: Navigator = { push() {}, turn() {} };

/** The shell gives the router here, so that commands can go places. */
export function setNavigator(page: Navigator): void {
  navigator = page;
}

export function songPath(id: string, stage: Stage = 'shape'): string {
  return `/song/${id}/${stage}`;
}

export function goToSongs(): void {
  navigator.push('/');
}

export function goToSong(id: string, stage?: Stage): void {
  navigator.push(songPath(id, stage));
}

export function goToStage(stage: Stage): void {
  const { songId } = useWorkbench.getState();
  if (songId) navigator.turn(songPath(songId, stage));
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
