import { platform } from '../platform';
import * as balance from '../balance/balance';
import * as chain from '../balance/chain';
import { chooseLoop } from '../balance/loop';
import { openNumbers } from '../balance/numbers';
import * as kits from '../balance/kits';
import * as pieces from '../balance/pieces';
import { useWorkbench } from '../store';
import { actsOf, type Act } from './act';
import { pasteUnlessElse } from './pasting';

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
  mixed(
    'solo-dry',
    'hear what is soloed dry, or in its place',
    ['shift+s'],
    balance.toggleSoloDry,
    'solo in place without room',
  ),
  mixed('hear-all-tracks', 'hear all tracks again', ['x'], balance.hearAll, 'unmute clear solo'),
  mixed('more-room', 'more of it in the room', ['r'], () => balance.stepSend('room', 0.1), 'send'),
  mixed('less-room', 'less of it in the room', ['shift+r'], () => balance.stepSend('room', -0.1)),
  mixed('more-echo', 'more of it in the echo', ['e'], () => balance.stepSend('echo', 0.1), 'send'),
  mixed('less-echo', 'less of it in the echo', ['shift+e'], () => balance.stepSend('echo', -0.1)),
  mixed('flat-tone', 'take the tone out', ['t'], chain.flatTone, 'equalizer eq'),
  mixed('toggle-dynamics', 'compressor on or off', ['d'], chain.toggleDynamics, 'compressor'),
  mixed(
    'threshold-down',
    'threshold 1 dB lower',
    ['shift+down'],
    () => chain.stepThreshold(-1),
    'compressor',
  ),
  mixed('threshold-up', 'threshold 1 dB higher', ['shift+up'], () => chain.stepThreshold(1)),
  mixed('more-drive', 'more drive', ['v'], () => chain.stepDrive(0.05), 'saturation'),
  mixed('less-drive', 'less drive', ['shift+v'], () => chain.stepDrive(-0.05)),
  mixed(
    'flip-track',
    'invert the polarity of the track',
    ['f'],
    chain.flipTrack,
    'polarity invert',
  ),
  mixed('next-output', 'the next pair of outputs for the track', [], balance.nextOutput, 'routing'),
  mixed(
    'more-dry',
    'more of it dry beside the drum bus',
    ['u'],
    () => chain.stepDry(0.1),
    'parallel dry',
  ),
  mixed('less-dry', 'less of it dry beside the drum bus', ['shift+u'], () => chain.stepDry(-0.1)),
  mixed('all-drums', 'open the drum bus', ['b'], balance.chooseDrums, 'master bus'),
  mixed(
    'drums-ceiling',
    'a higher ceiling for the drum bus',
    [],
    () => chain.stepCeiling(0.5),
    'limiter',
  ),
  mixed(
    'lower-ceiling',
    'a lower ceiling for the drum bus',
    [],
    () => chain.stepCeiling(-0.5),
    'limiter',
  ),
  mixed('copy-strip', 'copy how the track is mixed', ['mod+c'], balance.copyStrip),
  {
    ...mixed('paste-strip', 'mix the track as the copied one', ['mod+v'], () =>
      pasteUnlessElse(balance.pasteStrip),
    ),
    passes: true,
  },
  mixed('compare-mix', 'compare the mix with before', ['c'], balance.compareMix, 'before after'),
  mixed('note-mix', 'compare from now on with the mix as it is', ['n'], balance.noteMix),
  mixed(
    'mute-in-section',
    'mute the track in this section only',
    ['shift+m'],
    balance.muteInSection,
  ),
  mixed('room-ring', 'a longer reverb time', ['g'], () => balance.stepRing(1.25), 'reverb'),
  mixed('room-short', 'a shorter reverb time', ['shift+g'], () => balance.stepRing(0.8)),
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
  mixed('kits', 'the kits: hear others with the song', ['alt+k'], kits.toggleKits, 'sounds drums'),
  mixed('keep-kit', 'keep this kit under a name …', [], () => {
    if (!useWorkbench.getState().kitsOpen) kits.toggleKits();
    platform.afterFrame(() => platform.reachField('keep this kit as'));
  }),
  mixed(
    'save-kit',
    'save the kit with its sounds as a file',
    [],
    () => void kits.saveKitFile(),
    'share zip',
  ),
  mixed('open-kit', 'open a file with a kit', [], () => void kits.openKitFile(), 'import zip'),
  mixed('preset', 'presets of tracks: keep, use, forget …', [], () =>
    platform.reachField('preset'),
  ),
  mixed('own-track', 'give a part its own track', ['o'], balance.takeApart, 'split'),
  mixed('join-track', 'merge with the track above', ['j'], balance.joinWithAbove, 'merge'),
  mixed('track-up', 'move the track up', ['alt+up'], () => balance.moveTrack(-1), 'order'),
  mixed('track-down', 'move the track down', ['alt+down'], () => balance.moveTrack(1), 'order'),
  mixed('reset-track', 'reset the mix of the track', ['backspace'], balance.resetTrack, 'reset'),
  mixed('rename-track', 'rename the track', [], () => platform.reachField('track')),
  mixed('rename-layout', 'rename the layout', [], () => platform.reachField('layout')),
  mixed('remove-layout', 'remove the layout', [], balance.removeLayout),
  mixed('all-tracks', 'list tracks that nothing is on too', ['a'], balance.toggleAllTracks),
  mixed(
    'open-piece',
    'open the sound of the piece',
    ['enter'],
    () => pieces.openPiece(),
    'tune damp layers',
  ),
  mixed(
    'next-sound',
    'the next sound for the piece',
    ['period'],
    () => pieces.stepSound(1),
    'swap',
  ),
  mixed(
    'previous-sound',
    'the sound before, for the piece',
    ['comma'],
    () => pieces.stepSound(-1),
    'swap',
  ),
  mixed('tune-up', 'tune the piece up', ['p'], () => pieces.stepTune(50), 'pitch'),
  mixed('tune-down', 'tune the piece down', ['shift+p'], () => pieces.stepTune(-50), 'pitch'),
  mixed('damp-more', 'damp the piece more', ['h'], () => pieces.stepDamping(0.05), 'muffle'),
  mixed('damp-less', 'damp the piece less', ['shift+h'], () => pieces.stepDamping(-0.05)),
  mixed('choke-group', 'the next choke group for the piece', [], pieces.nextChoke),
  mixed('add-layer', 'one more sound on the piece', ['y'], () => pieces.addLayer(), 'layer'),
  mixed('remove-layer', 'take the last layer off the piece', ['shift+y'], () =>
    pieces.removeLayer(),
  ),
  mixed(
    'layer-from-files',
    'sound files on the piece, as a layer',
    ['w'],
    () => pieces.filesForPiece('layer'),
    'sample wav',
  ),
  mixed(
    'sound-from-files',
    'sound files as the sound of the piece',
    ['shift+w'],
    () => pieces.filesForPiece('sound'),
    'sample wav',
  ),
  mixed(
    'whole-family',
    'set all of the family together, or one piece',
    [],
    pieces.toggleFamily,
    'toms',
  ),
  mixed(
    'slice-loop',
    'cut a recorded loop into a pattern',
    ['i'],
    () => void chooseLoop(),
    'sample chop breakbeat audio',
  ),
  mixed(
    'numbers',
    'the note map: the MIDI note of each stroke',
    ['z'],
    openNumbers,
    'midi midnam csv',
  ),
];
