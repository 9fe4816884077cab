import { STAGES, type Stage } from './dialogs/slice';

/** What an address of the workbench leads to. */
export type Address = { page: 'songs' } | { page: 'song'; id: string; stage: Stage };

/** What a path leads to; a song without a stage opens in Shape. Nothing where it leads nowhere. */
export function addressOf(path: string): Address | undefined {
  const [first, id, stage = 'shape', ...more] = path.split('/').filter(Boolean);
  if (first === undefined) return { page: 'songs' };
  if (first !== 'song' || id === undefined || !isStage(stage) || more.length > 0) return undefined;
  return { page: 'song', id: decoded(id), stage };
}

/** Names in addresses may be anything; what cannot be decoded is taken as it is. */
function decoded(id: string): string {
  try {
    return decodeURIComponent(id);
  } catch {
    return id;
  }
}

let push: (path: string) => void = () => {};

/** The shell says here how the page goes to another address, so that commands can go places. */
export function setNavigator(navigate: (path: string) => void): void {
  push = navigate;
}

/** Goes to an address of the workbench. */
export function goTo(path: string): void {
  push(path);
}

export function songPath(id: string, stage: Stage = 'shape'): string {
  return `/song/${encodeURIComponent(id)}/${stage}`;
}

export function goToSongs(): void {
  goTo('/');
}

export function goToSong(id: string, stage?: Stage): void {
  goTo(songPath(id, stage));
}

export function isStage(value: string): value is Stage {
  return (STAGES as readonly string[]).includes(value);
}
