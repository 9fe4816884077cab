import { sectionOf, songWith, spanAtEnd, type Pattern, type Song } from '@/core/model';
import type { Meter } from '@/core/time';
import { played } from './played';

const TWELVE: Meter = { beats: 12, unit: 8 };

/** A slow one in 12/8, half finished: two parts and a turn. */
export function slackWater(id: string): Song {
  const verse: Pattern = played(
    {
      id: 'verse',
      name: 'Verse, rope and tar',
      dye: 5,
      meter: TWELVE,
      step: 480,
      lines: {
        hihat: '745745745745|745745745745',
        snare: '...8....28..|...8..2.28.2',
        kick: '8....57.....|8....57....5',
      },
    },
    401,
  );
  const chorus: Pattern = played(
    {
      id: 'chorus',
      name: 'Chorus, slack water',
      dye: 9,
      meter: TWELVE,
      step: 480,
      lines: {
        crash: '8...........|............',
        ride: '.57457457457|745745745745',
        snare: '...9.....9..|...9.....9.2',
        kick: '9....68...5.|9....68.....',
      },
    },
    402,
  );
  const turn: Pattern = played(
    {
      id: 'turn',
      name: 'Turn, three boats',
      kind: 'fill',
      dye: 7,
      meter: TWELVE,
      step: 480,
      lines: { snare: '678...', 'tom-high': '...77.', 'tom-high-floor': '.....8', kick: '7.....' },
    },
    403,
  );
  const fill = spanAtEnd('turn', 'fill', turn.length);
  return {
    ...songWith({ id, name: 'Slack Water, Second Boat', bpm: 92 }, [verse, chorus, turn]),
    sections: [
      sectionOf(verse, { id: 'verse', name: 'verse', kind: 'verse', bars: 8 }),
      sectionOf(chorus, { id: 'chorus', name: 'chorus', kind: 'chorus', bars: 4 }),
    ],
    places: [
      { id: 'place-1', section: 'verse', overlay: [fill] },
      { id: 'place-2', section: 'chorus', overlay: [fill] },
    ],
  };
}
