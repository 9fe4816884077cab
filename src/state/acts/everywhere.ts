import { markHere } from '../balance/here';
import { redo, undo } from '../session/edit';
import { showTour } from '../session/firstSteps';
import { tapTempo } from '../session/tap';
import { hearAllRows } from '../shape/view';
import * as routes from '../routes';
import { STAGES, type Stage } from '../store';
import { jump } from '../transport/goingTo';
import * as transport from '../transport/transport';
import { openDialog } from '../dialogs/dialogs';
import { platform } from '../platform';
import type { Act } from './act';

const song = { needsSong: true } as const;

const stageAct = (stage: Stage, index: number): Act => ({
  ...song,
  id: `go-${stage}`,
  name: `go to ${stage[0].toUpperCase()}${stage.slice(1)}`,
  group: 'go',
  keys: [`alt+${index + 1}`],
  run: () => routes.goToStage(stage),
});

function clearLoops(): void {
  transport.setSongLoop(undefined);
  transport.setPatternLoop(undefined);
}

/** Steps of a beat and of a bar: of the cursor in Shape, elsewhere of where it plays. */
const JUMPS = (['beat', 'bar'] as const).flatMap((unit) =>
  ([-1, 1] as const).map((by): Act => {
    const held = unit === 'bar' ? 'mod+shift' : 'mod';
    return {
      ...song,
      id: `${unit}-${by < 0 ? 'back' : 'on'}`,
      name: `one ${unit} ${by < 0 ? 'back' : 'on'}`,
      also: 'jump go to position cursor',
      group: 'play',
      keys: [`${held}+${by < 0 ? 'left' : 'right'}`],
      run: () => jump(by, unit),
    };
  }),
);

/** Playing, undoing, and going places. */
export const EVERYWHERE: readonly Act[] = [
  {
    ...song,
    id: 'play',
    name: 'play or stop',
    group: 'play',
    keys: ['space'],
    run: transport.playOrStop,
  },
  {
    ...song,
    id: 'to-start',
    name: 'go to the start',
    group: 'play',
    keys: ['home'],
    run: transport.toStart,
  },
  ...JUMPS,
  {
    ...song,
    id: 'position',
    name: 'go to a bar or a section …',
    also: 'position jump number locate',
    group: 'play',
    keys: ['mod+g'],
    run: () => platform.reachField('go to a bar'),
  },
  {
    ...song,
    id: 'hear',
    name: 'hear the pattern or the song',
    group: 'play',
    keys: ['h'],
    run: transport.toggleHear,
  },
  {
    ...song,
    id: 'click',
    name: 'click on or off',
    also: 'metronome',
    group: 'play',
    keys: ['c'],
    run: transport.toggleClick,
  },
  {
    ...song,
    id: 'count-in',
    name: 'count-in of one bar on or off',
    group: 'play',
    keys: ['n'],
    run: transport.toggleCountIn,
  },
  {
    ...song,
    id: 'no-loop',
    name: 'stop looping',
    group: 'play',
    keys: ['shift+l'],
    run: clearLoops,
  },

  {
    id: 'scheme',
    name: 'light or dark …',
    also: 'scheme theme colours linen indigo',
    group: 'edit',
    run: () => platform.reachField('light or dark'),
  },
  {
    ...song,
    id: 'mute-here',
    name: 'mute the track of this row',
    also: 'silence',
    group: 'play',
    keys: ['alt+m'],
    run: () => markHere('mute'),
  },
  {
    ...song,
    id: 'solo-here',
    name: 'hear the track of this row alone, in its place',
    also: 'solo',
    group: 'play',
    keys: ['alt+a'],
    run: () => markHere('solo'),
  },
  {
    ...song,
    id: 'hear-everything',
    name: 'hear all tracks and rows again',
    also: 'unmute clear solo',
    group: 'play',
    keys: ['alt+x'],
    run: hearAllRows,
  },
  { ...song, id: 'undo', name: 'undo', group: 'edit', keys: ['mod+z'], run: undo },
  { ...song, id: 'redo', name: 'redo', group: 'edit', keys: ['mod+shift+z', 'mod+y'], run: redo },
  {
    ...song,
    id: 'rename-song',
    name: 'rename the song',
    group: 'edit',
    run: () => platform.reachField('name of the song'),
  },
  {
    ...song,
    id: 'tempo',
    reaches: true,
    name: 'tempo',
    also: 'bpm speed beats per minute faster slower',
    group: 'edit',
    run: () => platform.reachField('tempo: '),
  },
  {
    ...song,
    id: 'tap-tempo',
    name: 'tap a tempo',
    also: 'bpm beats per minute',
    group: 'edit',
    keys: ['alt+t'],
    run: () => tapTempo(),
  },
  {
    id: 'palette',
    name: 'find a command',
    group: 'edit',
    keys: ['mod+k'],
    run: () => openDialog('palette'),
  },
  {
    id: 'keys',
    name: 'list of keys',
    also: 'shortcuts help',
    group: 'edit',
    keys: ['shift+slash'],
    run: () => openDialog('keys'),
  },
  {
    id: 'guide',
    name: 'guide: how it is done, stage by stage',
    also: 'help manual tutorial learn',
    group: 'edit',
    keys: ['f1'],
    run: () => openDialog('guide'),
  },
  {
    id: 'tour',
    name: 'show the tour again',
    also: 'help introduction first steps',
    group: 'edit',
    run: () => void showTour(),
  },

  { id: 'go-songs', name: 'go to the songs', group: 'go', keys: ['alt+0'], run: routes.goToSongs },
  ...STAGES.map(stageAct),
];
