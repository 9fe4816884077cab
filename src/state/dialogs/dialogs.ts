import { commitGesture } from '../session/edit';
import { useWorkbench, type Workbench } from '../store';

/** Lays a dialog over the stage. What a tool shows is kept. */
export function openDialog(dialog: Workbench['dialog']): void {
  commitGesture();
  useWorkbench.setState({ dialog });
}

export function closeDialog(): void {
  useWorkbench.setState({ dialog: undefined });
}
