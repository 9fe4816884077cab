import { platform } from '../platform';
import * as balance from '../balance/balance';
import { actsOf, type Act } from './act';

const mixed = actsOf('balance');

/** What is done in Balance. */
export const BALANCE_ACTS: readonly Act[] = [
  mixed('previous-track', 'choose the track above', ['up'], () => balance.stepTrack(-1)),
  mixed('next-track', 'choose the track below', ['down'], () => balance.stepTrack(1)),
  mixed('track-softer', 'softer by 1 dB', ['left'], () => balance.stepLevel(-1), 'level volume'),
  mixed('track-louder', 'louder by 1 dB', ['right'], () => balance.stepLevel(1), 'level volume'),
  mixed('pan-left', 'further left', ['shift+left'], () => balance.stepPan(-0.1), 'pan'),
  mixed('pan-right', 'further right', ['shift+right'], () => balance.stepPan(0.1), 'pan'),
  mixed('mute-track', 'mute the track', ['m'], () => balance.toggleMark('mute'), 'silence'),
  mixed('solo-track', 'hear the track alone', ['s'], () => balance.toggleMark('solo'), 'solo'),
  mixed('hear-all-tracks', 'hear all tracks again', ['x'], balance.hearAll, 'unmute clear solo'),
  mixed('more-room', 'more of it in the room', ['r'], () => balance.stepSend('room', 0.1), 'send'),
  mixed('less-room', 'less of it in the room', ['shift+r'], () => balance.stepSend('room', -0.1)),
  mixed('more-echo', 'more of it in the echo', ['e'], () => balance.stepSend('echo', 0.1), 'send'),
  mixed('less-echo', 'less of it in the echo', ['shift+e'], () => balance.stepSend('echo', -0.1)),
  mixed('flat-tone', 'take the tone of the track out', ['t'], balance.flatTone, 'equalizer eq'),
  mixed('room-ring', 'a room that rings longer', ['g'], () => balance.stepRing(1.25), 'reverb'),
  mixed('room-short', 'a room that rings shorter', ['shift+g'], () => balance.stepRing(0.8)),
  mixed('piece-level', 'what is on the track louder in the kit', [], () => balance.stepPieces(1)),
  mixed('piece-softer', 'what is on the track softer in the kit', [], () => balance.stepPieces(-1)),
  mixed('section-softer', 'softer in this section only', ['mod+left'], () =>
    balance.stepInSection(-1),
  ),
  mixed('section-level', 'louder in this section only', ['mod+right'], () =>
    balance.stepInSection(1),
  ),
  mixed(
    'next-layout',
    'the next way to split the kit into tracks',
    ['l'],
    balance.nextLayout,
    'layout',
  ),
  mixed('next-kit', 'the next kit', ['k'], () => balance.nextKit(1), 'sounds drums'),
  mixed('previous-kit', 'the kit before', ['shift+k'], () => balance.nextKit(-1)),
  mixed('own-track', 'put a part on a track of its own', ['o'], balance.takeApart, 'split'),
  mixed('join-track', 'join with the track above', ['j'], balance.joinWithAbove, 'merge'),
  mixed('track-up', 'move the track up', ['alt+up'], () => balance.moveTrack(-1), 'order'),
  mixed('track-down', 'move the track down', ['alt+down'], () => balance.moveTrack(1), 'order'),
  mixed('reset-track', 'mix the track as at first', ['backspace'], balance.resetTrack, 'reset'),
  mixed('rename-track', 'rename the track', [], () => platform.reachField('track')),
  mixed('rename-layout', 'rename the layout', [], () => platform.reachField('layout')),
  mixed('remove-layout', 'remove the layout', [], balance.removeLayout),
  mixed('all-tracks', 'list tracks that nothing is on too', ['a'], balance.toggleAllTracks),
];
