import * as transport from '../transport/transport';
import * as weave from '../weave/weave';
import { openDialog } from '../dialogs/dialogs';
import { platform } from '../platform';
import type { Act } from './act';

const weaveOnly = { group: 'weave', stage: 'weave', needsSong: true } as const;

/** What is done in Weave. */
export const WEAVE_ACTS: readonly Act[] = [
  {
    ...weaveOnly,
    id: 'previous-place',
    name: 'previous section',
    keys: ['left'],
    run: () => weave.nextPlace(-1),
  },
  {
    ...weaveOnly,
    id: 'next-place',
    name: 'next section',
    keys: ['right'],
    run: () => weave.nextPlace(1),
  },
  {
    ...weaveOnly,
    id: 'play-place',
    name: 'play from this section',
    keys: ['enter'],
    run: () => void transport.play(weave.selectedStart()),
  },
  {
    ...weaveOnly,
    id: 'add-section',
    name: 'add a section',
    keys: ['a'],
    run: () => weave.addSection(),
  },
  {
    ...weaveOnly,
    id: 'take-onto-place',
    name: 'lay strands of a pattern over this section …',
    keys: ['t'],
    run: () => openDialog('take'),
  },
  {
    ...weaveOnly,
    id: 'lay-fill',
    name: 'lay a fill at the end of this section …',
    run: () => platform.reachField('lay a fill at the end'),
  },
  {
    ...weaveOnly,
    id: 'play-another',
    name: 'play another pattern in this section …',
    run: () => platform.reachField('play another pattern'),
  },
  {
    ...weaveOnly,
    id: 'rename-section',
    name: 'rename this section',
    run: () => platform.reachField('name of the section'),
  },
  {
    ...weaveOnly,
    id: 'section-kind',
    name: 'kind of this section',
    run: () => platform.reachField('kind'),
  },
  {
    ...weaveOnly,
    id: 'section-bars',
    name: 'bars of this section',
    run: () => platform.reachField('bars'),
  },
  {
    ...weaveOnly,
    id: 'section-meter',
    name: 'meter of this section',
    run: () => platform.reachField('meter'),
  },
  { ...weaveOnly, id: 'loop-place', name: 'loop this section', keys: ['l'], run: weave.loopPlace },
  {
    ...weaveOnly,
    id: 'repeat-place',
    name: 'repeat this section',
    keys: ['mod+d'],
    run: weave.repeatPlace,
  },
  {
    ...weaveOnly,
    id: 'place-earlier',
    name: 'move this section earlier',
    keys: ['alt+left'],
    run: () => weave.shiftPlace(-1),
  },
  {
    ...weaveOnly,
    id: 'place-later',
    name: 'move this section later',
    keys: ['alt+right'],
    run: () => weave.shiftPlace(1),
  },
  {
    ...weaveOnly,
    id: 'remove-place',
    name: 'remove this section',
    keys: ['delete', 'backspace'],
    run: weave.removePlace,
  },
];
