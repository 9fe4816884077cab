import { articulationOf, DEFAULT_KIT, pieceOf } from '@/core/model';
import { type Tool, choice, by, pieceHere, rowOptions, cursorPiece } from './tool';

/** What hits are struck on. */
export const VOICE: readonly Tool[] = [
  {
    id: 'revoice',
    name: 'another piece or articulation …',
    group: 'voice',
    letter: 'p',
    fields: (bench) => [
      choice(
        'way',
        'play it on',
        `${pieceHere(bench)}/${articulationOf(pieceHere(bench), '').id}`,
        DEFAULT_KIT.pieces.flatMap(({ id, name, articulations }) =>
          articulations.map(
            (a) =>
              [`${id}/${a.id}`, articulations.length > 1 ? `${name}: ${a.name}` : name] as const,
          ),
        ),
      ),
    ],
    commands(v, b) {
      const [piece, articulation] = v.text('way').split('/');
      return by(b, 'revoice', { piece, articulation });
    },
  },
  {
    id: 'alternate-ways',
    name: 'alternate two articulations …',
    group: 'voice',
    letter: 'a',
    fields(bench) {
      const { articulations } = pieceOf(pieceHere(bench));
      const ways = articulations.map((a) => [a.id, a.name] as const);
      return [
        choice('first', 'first', ways[0][0], ways),
        choice('second', 'then', (ways[1] ?? ways[0])[0], ways),
      ];
    },
    commands: (v, b) =>
      by(b, 'alternate articulations', { first: v.text('first'), second: v.text('second') }),
  },
  {
    id: 'swap-strands',
    name: 'swap this row with …',
    group: 'voice',
    letter: 's',
    free: true,
    fields: ({ pattern }) => {
      const options = rowOptions(pattern, cursorPiece());
      return [choice('other', pieceOf(cursorPiece()).name, options[0]?.[0] ?? '', options)];
    },
    commands: (v, { pattern }) => [
      { type: 'swap strands', pattern: pattern.id, one: cursorPiece(), other: v.text('other') },
    ],
  },
  {
    id: 'copy-strand',
    name: 'copy this row onto …',
    group: 'voice',
    letter: 'c',
    free: true,
    fields: ({ pattern }) => {
      const here = cursorPiece();
      const options = DEFAULT_KIT.pieces.filter(({ id }) => id !== here).map(
        (p) => [p.id, p.name] as const,
      );
      const first = rowOptions(pattern, here)[0]?.[0] ?? options[0][0];
      return [choice('to', `${pieceOf(here).name} onto`, first, options)];
    },
    commands: (v, { pattern }) => [
      { type: 'copy strand', pattern: pattern.id, from: cursorPiece(), to: v.text('to') },
    ],
  },
];
