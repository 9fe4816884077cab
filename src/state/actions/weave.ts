import * as transport from '../transport';
import * as weave from '../weave';
import { openDialog, type Action } from './action';

const weaveOnly = { group: 'weave', stage: 'weave', needsSong: true } as const;

/** What is done in Weave. */
export const WEAVE_ACTIONS: readonly Action[] = [
  {
    ...weaveOnly,
    id: 'previous-place',
    name: 'previous section',
    keys: ['left'],
    run: () => weave.turnPlace(-1),
  },
  {
    ...weaveOnly,
    id: 'next-place',
    name: 'next section',
    keys: ['right'],
    run: () => weave.turnPlace(1),
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
