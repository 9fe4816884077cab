import { articulationOf, DEFAULT_KIT, findPiece, pieceOf, type Kit } from '../model';
import {
  alternateWays,
  copyStrand,
  nextArticulation,
  revoice,
  setArticulation,
  swapStrands,
} from '../pattern';
import { nameOfRow, otherRows, pieceHere, rowHere } from './common';
import { onHits, onPattern } from './definition';
import { ask, id, text, type Bench, type Option } from './value';

/** What hits are struck on. */
export const VOICE = {
  'set articulation': onHits(
    { articulation: text(200) },
    (pattern, ids, { articulation }, { kit }) => setArticulation(pattern, ids, articulation, kit),
    'next-articulation',
  ),
  'next articulation': onHits(
    {},
    (pattern, ids, _, { kit }) => nextArticulation(pattern, ids, kit),
    'next-articulation',
  ),
  revoice: onHits(
    {
      way: ask(
        text(400, /^[^/]+\/[^/]*$/, 'a piece and how it is struck'),
        'play it on',
        (bench) => wayOf(pieceHere(bench), '', bench.song.kit),
        { options: ({ song }) => waysOf(song.kit) },
      ),
    },
    (pattern, ids, { way }, { kit }) => {
      const [piece, articulation] = way.split('/');
      if (!findPiece(piece, kit)) return `There is no kit piece “${piece}”.`;
      return revoice(pattern, ids, { piece, articulation }, kit);
    },
    { words: 'another piece or articulation …', menu: 'voice', letter: 'p' },
  ),
  'alternate articulations': onHits(
    {
      first: ask(text(200), 'first', (bench) => waysHere(bench)[0][0], { options: waysHere }),
      second: ask(text(200), 'then', (bench) => (waysHere(bench)[1] ?? waysHere(bench)[0])[0], {
        options: waysHere,
      }),
    },
    (pattern, ids, told, { kit }) => alternateWays(pattern, ids, told, kit),
    { words: 'alternate two articulations …', menu: 'voice', letter: 'a', keys: ['a'] },
    (pattern, ids) => {
      const chosen = pattern.strands.filter(({ hits }) => hits.some((hit) => ids.has(hit.id)));
      const name = chosen
        .map(({ piece }) => findPiece(piece) ?? findPiece(piece, DEFAULT_KIT))
        .find((piece) => piece && piece.articulations.length < 2)?.name;
      return name && `${name} can be struck one way only.`;
    },
  ),
  'swap strands': onPattern(
    {
      one: rowHere(),
      other: ask(id('piece'), nameOfRow, (bench) => otherRows(bench)[0]?.[0] ?? '', {
        options: otherRows,
      }),
    },
    (pattern, { one, other }, { kit }) => swapStrands(pattern, one, other, kit),
    { words: 'swap this row with …', menu: 'voice', letter: 's' },
  ),
  'copy strand': onPattern(
    {
      from: rowHere(),
      to: ask(
        id('piece'),
        (bench) => `${nameOfRow(bench)} onto`,
        (bench) => otherRows(bench)[0]?.[0] ?? otherPieces(bench)[0][0],
        { options: otherPieces },
      ),
    },
    (pattern, { from, to }, { kit }) => copyStrand(pattern, from, to, kit),
    { words: 'copy this row onto …', menu: 'voice', letter: 'c' },
  ),
};

function wayOf(piece: string, articulation: string, kit: Kit): string {
  return `${piece}/${articulationOf(piece, articulation, kit).id}`;
}

function waysOf({ pieces }: Kit): Option<string>[] {
  return pieces.flatMap(({ id: piece, name, articulations }) =>
    articulations.map((a): Option<string> => [
      `${piece}/${a.id}`,
      articulations.length > 1 ? `${name}: ${a.name}` : name,
    ]),
  );
}

function waysHere(bench: Bench): Option<string>[] {
  const { articulations } = pieceOf(pieceHere(bench), bench.song.kit);
  return articulations.map((a): Option<string> => [a.id, a.name]);
}

function otherPieces({ song, cursor }: Bench): Option<string>[] {
  return song.kit.pieces
    .filter((piece) => piece.id !== cursor.piece)
    .map((piece): Option<string> => [piece.id, piece.name]);
}
