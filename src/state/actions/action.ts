import { commitGesture } from '../edit';
import { useWorkbench, type Stage, type Workbench } from '../store';

/** Something the user can do by name: found in the palette, reached by its key, listed with it. */
export interface Action {
  id: string;
  name: string;
  group: 'play' | 'edit' | 'go' | 'gather' | 'shape' | 'tools' | 'weave' | 'files';
  /** Keys in the form `mod+shift+z`; `mod` is Ctrl, or Cmd on a Mac. Several are alternatives. */
  keys?: readonly string[];
  /** Keys one after another, the first of which opens a menu: shown, not bound. */
  chord?: readonly string[];
  /** Only on this stage. */
  stage?: Stage;
  /** Only while a song is open. */
  needsSong?: boolean;
  run: () => void;
}

export function openDialog(dialog: Workbench['dialog']): void {
  commitGesture();
  useWorkbench.setState({ dialog });
}

export function closeDialog(): void {
  useWorkbench.setState({ dialog: undefined });
}
