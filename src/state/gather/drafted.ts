import { neighboursAside } from '@/workers';
import { grooveOfPattern } from '@/core/library';
import type { Pattern } from '@/core';
import { findPattern } from '@/core/model';
import { notify } from '../notices/notices';
import { goToStage } from '../routes';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { chosenPlace } from '../weave/choosing';
import { draftLike, prepareDrafting } from '../weave/drafting';
import { chooseGroove, chosenPattern, grooveById, listDrafted, useGather } from './gather';

/** Counts the lists that were drafted, so that asking again gives others. */
let asked = 0;

/**
 * Drafts eight grooves like a pattern, from the nearest to the boldest, and lists them in Gather: the arrow keys hear
 * each of them, keeping one puts it onto the shelf.
 */
export async function moreLike(pattern: Pattern | undefined): Promise<void> {
  if (!pattern) return notify('Choose a groove first: others like it are drafted then.');
  const { songId } = useWorkbench.getState();
  try {
    await prepareDrafting();
    const near = await neighboursAside(openSongNow(), pattern, ++asked);
    if (useWorkbench.getState().songId !== songId) return;
    if (near.length === 0) {
      return notify(`“${pattern.name}” has too little in it to be varied.`);
    }
    const family = `drafted, like “${pattern.name}”`.slice(0, 120);
    const { bpm } = openSongNow();
    const drafted = near.map(({ pattern: one }, n) => ({
      pattern: one,
      groove: grooveOfPattern(one, bpm, { id: `drafted/${asked}/${n + 1}`, family }),
    }));
    if (useWorkbench.getState().stage !== 'gather') goToStage('gather');
    listDrafted(family, drafted);
    void chooseGroove(drafted[0].groove.id);
  } catch {
    notify('No grooves could be drafted: the worker stopped. Try again.', 'error');
  }
}

/** More like the groove that is looked at in Gather. */
export function moreLikeChosen(): void {
  void moreLike(chosenPattern());
}

/** More like what plays in the section that is chosen in Weave. */
export function moreLikeSection(): void {
  const here = chosenPlace();
  const span = here?.section.spans.find(({ pieces }) => pieces === 'all');
  void moreLike(span && findPattern(openSongNow(), span.pattern));
}

/** More like the pattern that is open in Shape. */
export function moreLikeShown(): void {
  void moreLike(shownPattern(useWorkbench.getState()));
}

/** Drafts the song with the feel of the groove that is looked at in Gather. */
export function draftLikeChosen(): void {
  const groove = grooveById(useGather.getState().chosen);
  if (!groove) return notify('Choose a groove first: the song is drafted with its feel then.');
  if (groove.id.startsWith('drafted/')) {
    return notify(
      'Keep this groove first: then the draft can start from it, as from any of the shelf.',
    );
  }
  const { id, name, family } = groove;
  draftLike({ id, name, family });
}
