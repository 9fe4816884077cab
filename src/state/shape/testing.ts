import { useWorkbench } from '../store';
import { setCursor } from './shape';
import { runOffered } from './toolbox';

/** Chooses all hits of a row, as its key does with the cursor on it. */
export function chooseRow(piece: string): void {
  setCursor(piece, useWorkbench.getState().cursor.at);
  runOffered('select the row');
}
