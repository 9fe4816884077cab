import type { PieceId } from '../model';
import type { DraftStroke } from './bar';
import type { Phrase } from './phrases';

/** The bars, counted from 0, in which a phrase is heard otherwise than another one of the same length, in runs. */
export function differing(
  base: Phrase,
  phrase: Phrase,
): { from: number; to: number; pieces: PieceId[] }[] {
  const runs: { from: number; to: number; pieces: PieceId[] }[] = [];
  phrase.strokes.forEach((strokes, i) => {
    if (strokes === base.strokes[i]) return;
    const [was, now] = [base.strokes[i], strokes].map(heardByPiece);
    const pieces = [...new Set([...was.keys(), ...now.keys()])].filter(
      (piece) => was.get(piece) !== now.get(piece),
    );
    if (pieces.length === 0) return;
    const last = runs.at(-1);
    if (last?.to === i) {
      last.to = i + 1;
      last.pieces = [...new Set([...last.pieces, ...pieces])];
    } else runs.push({ from: i, to: i + 1, pieces });
  });
  return runs;
}

/** The strokes of each piece in a bar, as a text that tells whether they are the same. */
function heardByPiece(strokes: readonly DraftStroke[]): Map<PieceId, string> {
  const heard = new Map<PieceId, string[]>();
  for (const { piece, at, hit } of strokes) {
    const list = heard.get(piece) ?? heard.set(piece, []).get(piece)!;
    list.push(`${Math.round(at)} ${hit.push} ${hit.velocity} ${hit.articulation}`);
  }
  return new Map([...heard].map(([piece, list]) => [piece, list.sort().join()]));
}
