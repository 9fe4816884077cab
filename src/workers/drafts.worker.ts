import * as Comlink from 'comlink';
import {
  draftLaid,
  draftSong,
  neighboursOf,
  rollDraft,
  type DraftFamily,
  type DraftLaid,
  type Neighbour,
} from '../core/draft';
import { readFamily } from '../core/library';
import { songWith, type Pattern, type Song } from '../core/model';
import { layForm, readForm } from '../core/weave';

/** What a worker made of a song. */
export interface DraftAnswer {
  laid: DraftLaid;
  says: string[];
}

/** What is asked of the library beside what it ships. */
export interface OwnGrooves {
  families: DraftFamily[];
  grooves: ReadonlyMap<string, Pattern>;
}

let shipped: DraftFamily[] = [];
let all: { own: string; families: readonly DraftFamily[] } | undefined;

/** Families are measured once: the same list is used as long as every groove in it is the same. */
function familiesWith({ families }: OwnGrooves): readonly DraftFamily[] {
  const own = JSON.stringify(families);
  if (all?.own !== own) all = { own, families: [...families, ...shipped] };
  return all.families;
}

/** So many small drafts, and the next one is as quick as it will be. */
const WARM_UPS = 24;

/** Makes the worker ready for a first draft, a small one at a time: what is asked for meanwhile comes in between. */
function warmUp(): void {
  const { parts } = readForm('intro 2, verse 8, chorus 8, verse 8, chorus 8');
  let { song } = layForm(songWith({ id: 'ready', name: 'ready' }), parts);
  const families = familiesWith({ families: [], grooves: new Map() });
  let left = WARM_UPS;
  const next = () => {
    song = rollDraft(draftSong(song, { families }).song, undefined);
    if (--left > 0) setTimeout(next);
  };
  next();
}

const draftsWorker = {
  /** Reads the shipped families, and makes itself ready. @param ids names of their files */
  async prepare(ids: readonly string[]): Promise<void> {
    shipped = await Promise.all(
      ids.map(async (id) => {
        const answer = await fetch(new URL(`/library/${id}.tab`, self.location.origin));
        if (!answer.ok) throw new Error(`The library answered ${answer.status}`);
        const { family, bpm, patterns } = readFamily(await answer.text(), `shipped/${id}`);
        return { name: family, bpm, patterns };
      }),
    );
    all = undefined;
    warmUp();
  },

  draft(song: Song, own: OwnGrooves, sections?: ReadonlySet<string>): DraftAnswer {
    const library = { families: familiesWith(own), grooves: own.grooves };
    const { song: drafted, says } = draftSong(song, library, sections);
    return { laid: draftLaid(song, drafted), says };
  },

  neighbours(song: Song, pattern: Pattern, seed: number): Neighbour[] {
    return neighboursOf(
      song,
      pattern,
      { families: familiesWith({ families: [], grooves: new Map() }) },
      seed,
    );
  },
};

export type DraftsWorker = typeof draftsWorker;

Comlink.expose(draftsWorker);
