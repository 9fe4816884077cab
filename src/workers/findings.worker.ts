import * as Comlink from 'comlink';
import { impossibles, type Impossible } from '../core/playing';
import type { Song } from '../core/model';
import { withDifference, type Difference } from '../core/model';
import { sameAgain, type SameAgain } from '../core/weave';

let known: Song | undefined;

/** What is the same again in a song, and what nobody plays; only what changed is looked at again. */
const findingsWorker = {
  whole(song: Song): { same: SameAgain; wrong: Impossible[] } {
    known = song;
    return { same: sameAgain(song), wrong: impossibles(song) };
  },
  changed(difference: Difference): { same: SameAgain; wrong: Impossible[] } | undefined {
    if (!known) return undefined;
    return this.whole(withDifference(known, difference) as Song);
  },
};

export type FindingsWorker = typeof findingsWorker;

Comlink.expose(findingsWorker);
