import { matchSorter } from 'match-sorter';
import { platform } from '../platform';
import { goToStage } from '../routes';
import { useWorkbench, type Workbench } from '../store';
import { ACTS, isAvailable } from '.';
import { ACT_GROUPS, type Act } from './act';

/** Words that are used elsewhere for what is done here, and the acts that do it, the likeliest first. */
const WORDS: Readonly<Record<string, readonly string[]>> = {
  explode: ['own-track', 'next-layout', 'lift-bars'],
  extract: ['lift-bars', 'own-track', 'slice-loop'],
  separate: ['own-track', 'next-layout', 'lift-bars'],
  glue: ['merge-place', 'join-track'],
  freeze: ['bounce'],
  render: ['bounce', 'hand-over'],
  automation: ['section-level', 'section-softer', 'mute-in-section', 'tempo'],
  scene: ['perform', 'note-mix', 'compare-mix'],
  normalise: ['level velocity', 'hand-over'],
  normalize: ['level velocity', 'hand-over'],
  quantise: ['quantize'],
  humanise: ['humanize'],
  crescendo: ['ramp velocity'],
  diminuendo: ['ramp velocity'],
  compress: ['toggle-dynamics', 'threshold-down'],
  compressor: ['toggle-dynamics', 'threshold-down'],
  reverb: ['more-room', 'room-ring'],
  delay: ['more-echo'],
  mixdown: ['hand-over'],
};

/** An act that is found by name, and the stage that is gone to for it. */
export interface FoundAct extends Act {
  /** “Weave”: where it is done; absent is here. */
  where?: string;
}

/** Whether an act can be done once its stage is gone to. */
const isElsewhere = (act: Act, state: Workbench) =>
  act.stage !== undefined &&
  act.stage !== state.stage &&
  isAvailable(act, { ...state, stage: act.stage });

/** All acts by name: those of this stage as they are, those of others with going there first. */
export function actsByName(state: Workbench): FoundAct[] {
  const here = ACTS.filter((act) => act.id !== 'palette' && isAvailable(act, state));
  const names = new Set(here.map(({ name }) => name));
  const others = ACTS.filter((act) => isElsewhere(act, state) && !names.has(act.name));
  return [
    ...here,
    ...others.map((act) => ({
      ...act,
      where: ACT_GROUPS[act.stage as keyof typeof ACT_GROUPS],
      run: () => runOnStage(act),
    })),
  ];
}

/** Goes to the stage of an act, and does it there. */
function runOnStage(act: Act): void {
  const { stage: from, songId } = useWorkbench.getState();
  const stop = useWorkbench.subscribe((state) => {
    if (state.stage === from && state.songId === songId) return;
    stop();
    // Who went elsewhere meanwhile does not want it any more.
    if (state.stage !== act.stage || state.songId !== songId) return;
    // The fields of a stage are there a frame after it is entered.
    platform.afterFrame(() => platform.afterFrame(act.run));
  });
  goToStage(act.stage!);
}

/** The acts that have every word of a query in their names or are called so elsewhere, those that fit best first. */
export function actsLike(acts: readonly FoundAct[], query: string): readonly FoundAct[] {
  const words = query.trim().toLowerCase().split(/\s+/).filter(Boolean);
  // The last word sorts last, so that the first one counts most.
  const found = words.reduceRight<readonly FoundAct[]>((left, word) => {
    const called = Object.entries(WORDS).find(
      ([other]) => other === word || (word.length > 4 && other.startsWith(word)),
    )?.[1];
    const meant = (called ?? []).flatMap((id) => left.find((act) => act.id === id) ?? []);
    const matched = matchSorter(left, word, {
      keys: ['name', 'also'],
      baseSort: (a, b) => Number(a.item.where !== undefined) - Number(b.item.where !== undefined),
      threshold: matchSorter.rankings.CONTAINS,
    });
    return [...meant, ...matched.filter((act) => !meant.includes(act))];
  }, acts);
  if (words.length < 2) return found;
  // Names with the whole phrase come before names with its words.
  const phrase = words.join(' ');
  const called = found.filter(({ name }) => name.toLowerCase().includes(phrase));
  return [...called, ...found.filter((act) => !called.includes(act))];
}
