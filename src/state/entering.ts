import { leaveTrying } from './session/edit';
import { useWorkbench, type Stage } from './store';
import { audition, setHear } from './transport/transport';

/** Says which stage is on screen. What is heard follows, unless something plays already. */
export function enterStage(stage: Stage): void {
  const { playing, stage: before, opened } = useWorkbench.getState();
  if (stage !== before) leaveTrying();
  useWorkbench.setState({ stage });
  if (stage !== 'gather' && before === 'gather') audition(undefined);
  if (!playing) setHear(stage === 'shape' && !opened ? 'pattern' : 'song');
}
