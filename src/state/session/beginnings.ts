import { goToStage } from '../routes';
import { goToGroove, openLibrary } from '../gather/gather';
import { platform } from '../platform';
import { writeAtCursor } from '../shape/shape';
import { useWorkbench } from '../store';
import { play, setHear } from '../transport/transport';
import { draftSongFrom } from '../weave/drafting';
import type { Song } from '@/core';

/** A way to begin with an empty song: one press each. */
export interface Beginning {
  id: string;
  name: string;
  says: string;
  run: () => void;
}

const FIRST_KICK = 110;

/** The form that a song gets which is drafted before it has one. */
const USUAL_FORM = 'intro 4, verse 8, chorus 8, verse 8, chorus 8, bridge 8, chorus 8, outro 4';

/** The four ways to begin, in the order in which most take them. */
export const BEGINNINGS: readonly Beginning[] = [
  {
    id: 'write',
    name: 'write a beat',
    says: 'press steps in a grid, as loud as you press high',
    run: () => {
      goToStage('shape');
      // The first kick: from there on it is yours.
      useWorkbench.setState({ cursor: { piece: 'kick', at: 0 } });
      writeAtCursor(FIRST_KICK);
      setHear('pattern');
      void play(0);
    },
  },
  {
    id: 'groove',
    name: 'take a groove',
    says: 'hear the library with the arrow keys, keep what fits',
    run: () => {
      goToStage('gather');
      void openLibrary().then(() => goToGroove(1));
    },
  },
  {
    id: 'draft',
    name: 'draft a part',
    says: 'a form, a line of energy, and a part that you can change',
    run: () => draftSongFrom(USUAL_FORM),
  },
  {
    id: 'file',
    name: 'bring a file',
    says: 'MIDI, a score, a saved song, a recorded loop',
    run: () => platform.chooseFile(),
  },
];

/** Whether nothing was made of a song yet: no hit is in it, and no section. */
export function isEmptySong({ patterns, places }: Pick<Song, 'patterns' | 'places'>): boolean {
  return (
    places.length === 0 &&
    patterns.every(({ strands }) => strands.every(({ hits }) => hits.length === 0))
  );
}
