import { openDialog } from '../dialogs/dialogs';
import { platform } from '../platform';
import type { Act } from './act';
import * as gather from '../gather/gather';
import { draftLikeChosen, moreLikeChosen } from '../gather/drafted';
import { FILTERS } from '../gather/gathering';
import * as keeping from '../gather/keeping';
import { askToChange, FAMILY_FORMS, saveFamily, takeOutOfLibrary } from '../gather/ownLibrary';
import { openNoteMap } from '../gather/noteMaps';

const here = { group: 'gather', stage: 'gather', needsSong: true } as const;

const stars = (count: number): Act => ({
  ...here,
  id: `stars-${count}`,
  name: count === 1 ? 'give it one star' : `give it ${count} stars`,
  keys: [`${count}`],
  run: () => keeping.starChosen(count),
});

/** What is done in Gather, all with single keys: a hundred candidates take minutes. */
export const GATHER_ACTS: readonly Act[] = [
  {
    ...here,
    id: 'next-groove',
    name: 'hear the next groove',
    keys: ['down'],
    run: () => gather.goToGroove(1),
  },
  {
    ...here,
    id: 'previous-groove',
    name: 'hear the groove before',
    keys: ['up'],
    run: () => gather.goToGroove(-1),
  },
  {
    ...here,
    id: 'page-down',
    name: 'ten grooves further',
    keys: ['pagedown'],
    run: () => gather.goToGroove(10),
  },
  {
    ...here,
    id: 'page-up',
    name: 'ten grooves back',
    keys: ['pageup'],
    run: () => gather.goToGroove(-10),
  },
  {
    ...here,
    id: 'keep',
    name: 'keep it, and go on',
    keys: ['k', 'enter'],
    run: () => void keeping.keepChosen(),
  },
  {
    ...here,
    id: 'pass',
    name: 'reject it, and go on',
    keys: ['x', 'delete'],
    run: keeping.passChosen,
  },
  {
    ...here,
    id: 'keep-parts',
    name: 'keep all parts of the file',
    also: 'whole song sections',
    keys: ['alt+k'],
    run: keeping.keepParts,
  },
  {
    ...here,
    id: 'keep-family',
    name: 'keep its family, as far as the list shows it',
    keys: ['shift+k'],
    run: () => void keeping.keepFamily(),
  },
  ...[1, 2, 3, 4, 5].map(stars),
  {
    ...here,
    id: 'note-groove',
    name: 'write a note on the groove',
    also: 'remark comment it',
    keys: ['o'],
    run: () => focus('note on the groove'),
  },
  {
    ...here,
    id: 'rename-groove',
    name: 'rename the groove',
    also: 'name it',
    keys: ['r'],
    run: () => focus('name of the groove'),
  },
  {
    ...here,
    id: 'like-this',
    name: 'list what is like this one',
    keys: ['j'],
    run: () => gather.likeThis(),
  },
  {
    ...here,
    id: 'like-kick',
    name: 'list what has a similar kick',
    keys: ['shift+j'],
    run: () => gather.likeThis(['kick']),
  },
  {
    ...here,
    id: 'in-place',
    name: 'hear it in place, or alone',
    keys: ['i'],
    run: gather.toggleInPlace,
  },
  {
    ...here,
    id: 'fit-by',
    name: 'fit by the kick alone, or by accents too',
    also: 'guide bass',
    keys: ['q'],
    run: gather.toggleFitBy,
  },
  {
    ...here,
    id: 'cut-bars',
    name: 'take only some bars of it …',
    also: 'cut crop from to',
    keys: ['shift+b'],
    run: () => focus('first bar'),
  },
  {
    ...here,
    id: 'without',
    name: 'compare with before, or hear it again',
    keys: ['w'],
    run: gather.hearWithout,
  },
  {
    ...here,
    id: 'wait',
    name: 'next grooves wait for the bar, the beat, or not at all',
    keys: ['b'],
    run: gather.nextWait,
  },
  {
    ...here,
    id: 'search',
    name: 'search the library',
    also: 'find filter',
    keys: ['slash', 'mod+f'],
    run: () => focus('search the library'),
  },
  ...FILTERS.map((label): Act => ({
    ...here,
    id: `filter-${label}`,
    name: `filter by ${label} …`,
    also: 'only grooves',
    run: () => platform.reachField(label),
  })),
  {
    ...here,
    id: 'clear-filter',
    name: 'list the whole library again',
    keys: ['alt+f'],
    run: gather.clearFilter,
  },
  {
    ...here,
    id: 'more-like',
    name: 'draft eight more like it',
    also: 'draft variations neighbours generate',
    keys: ['shift+m'],
    run: moreLikeChosen,
  },
  {
    ...here,
    id: 'draft-like',
    name: 'draft the song with its feel',
    also: 'generate part drummer',
    keys: ['shift+d'],
    run: draftLikeChosen,
  },
  { ...here, id: 'take', name: 'copy parts of it …', keys: ['t'], run: () => openDialog('take') },
  {
    ...here,
    id: 'change-in-library',
    name: 'change what it is found by in the library …',
    also: 'family kind tags own',
    run: () => askToChange(),
  },
  {
    ...here,
    id: 'out-of-library',
    name: 'take it out of the library',
    also: 'remove delete own',
    run: () => void takeOutOfLibrary(),
  },
  ...FAMILY_FORMS.map((form): Act => ({
    ...here,
    id: `family-as-${form}`,
    name: `save its family as ${form}`,
    also: 'export folder zip',
    run: () => void saveFamily(form),
  })),
  {
    ...here,
    id: 'note-map',
    name: 'say which note is which drum …',
    keys: ['m'],
    run: () => void openNoteMap(),
  },
  {
    ...here,
    id: 'tab-groove',
    name: 'show the groove',
    keys: ['shift+1'],
    run: () => gather.setTab('groove'),
  },
  {
    ...here,
    id: 'tab-shelf',
    name: 'show the shelf',
    keys: ['shift+2'],
    run: () => gather.setTab('shelf'),
  },
  {
    ...here,
    id: 'tab-offcuts',
    name: 'show the offcuts',
    keys: ['shift+3'],
    run: () => gather.setTab('offcuts'),
  },
];

/** So many frames a field is waited for that is on its way, as with hits that are still fetched. */
const FRAMES = 120;

/** Puts the cursor into a field by its name; one that is not shown is looked for on the groove's page. */
function focus(label: string, frames = FRAMES): void {
  if (platform.reachField(label) || frames === 0) return;
  if (frames === FRAMES) gather.setTab('groove');
  platform.afterFrame(() => focus(label, frames - 1));
}
