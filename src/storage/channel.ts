import type { Difference } from '@/core/model';

/** What tabs tell each other. */
export type Word =
  /** The song got its change number `n`. */
  | { says: 'changed'; id: string; n: number; difference: Difference }
  /** The song was deleted; or it is another one now, and is to be read anew. */
  | { says: 'deleted' | 'replaced'; id: string }
  /** Whoever holds the song is asked to give it another name. */
  | { says: 'rename'; id: string; name: string }
  /** Who asks for the right to write it, who has it, and who lets go of it; see `lock`. */
  | { says: 'ask' | 'mine' | 'free'; id: string; from: string };

type Listener = (word: Word) => void;

/** The line between the tabs of one browser. Where there is none, every tab is alone. */
export class TabChannel {
  private readonly listeners = new Set<Listener>();
  private readonly line: BroadcastChannel | undefined;

  constructor(name = 'verse-loom') {
    if (typeof BroadcastChannel === 'undefined') return;
    this.line = new BroadcastChannel(name);
    // Tests in Node end although a line is open.
    (this.line as unknown as { unref?: () => void }).unref?.();
    this.line.onmessage = ({ data }: MessageEvent<unknown>) => {
      if (isWord(data)) for (const hear of this.listeners) hear(data);
    };
  }

  tell(word: Word): void {
    try {
      this.line?.postMessage(word);
    } catch {
      // What cannot be sent is found in storage by the others.
    }
  }

  /** @returns a function that ends it */
  listen(hear: Listener): () => void {
    this.listeners.add(hear);
    return () => void this.listeners.delete(hear);
  }

  close(): void {
    this.line?.close();
  }
}

/** Whether this is a word: another version of the application may be open beside this one. */
function isWord(data: unknown): data is Word {
  const { says, id, ...rest } = (data ?? {}) as Record<string, unknown>;
  if (typeof id !== 'string') return false;
  if (says === 'changed')
    return Number.isSafeInteger(rest.n) && typeof rest.difference === 'object';
  if (says === 'rename') return typeof rest.name === 'string';
  if (says === 'ask' || says === 'mine' || says === 'free') return typeof rest.from === 'string';
  return says === 'deleted' || says === 'replaced';
}

let shared: TabChannel | undefined;

/** The line of this tab to the others. */
export function tabs(): TabChannel {
  return (shared ??= new TabChannel());
}
