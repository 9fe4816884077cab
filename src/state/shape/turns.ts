import type { Pattern, Song } from '@/core';
import { findPattern, type TurnKind } from '@/core/model';
import { suggestions, turnBar, type Suggestion } from '@/core/pattern';
import { barTicks } from '@/core/time';
import { notify } from '../notices/notices';
import {
  cancelGesture,
  commitGesture,
  edit,
  editOrSay,
  preview,
  songBefore,
} from '../session/edit';
import { patternOn, shownPattern, useWorkbench } from '../store';
import { play } from '../transport/transport';
import { setCursor } from './shape';

/** Doubles the pattern, goes to its last bar and offers changes for it. */
export function growPattern(): void {
  const shown = shownPattern(useWorkbench.getState());
  if (!shown || !editOrSay({ type: 'grow', pattern: shown.id })) return;
  const after = shownPattern(useWorkbench.getState()) ?? shown;
  setCursor(useWorkbench.getState().cursor.piece, turnBar(after) * barTicks(after.meter));
  useWorkbench.setState({ turn: { pattern: shown.id, seed: turnBar(after), dismissed: [] } });
}

/** Offers changes for the last bar of a pattern as it is. */
export function offerTurns(): void {
  const shown = shownPattern(useWorkbench.getState());
  if (!shown) return;
  setCursor(useWorkbench.getState().cursor.piece, turnBar(shown) * barTicks(shown.meter));
  useWorkbench.setState({ turn: { pattern: shown.id, seed: turnBar(shown), dismissed: [] } });
}

/** The pattern as it is without the suggestion that is heard. */
function withoutPreview(id: string): Pattern | undefined {
  const song = songBefore();
  return song && turned(song, id);
}

/** The pattern a turn is of, also where it was opened in its place. */
function turned(song: Song, id: string): Pattern | undefined {
  const shown = patternOn(useWorkbench.getState(), song);
  return shown?.id === id ? shown : findPattern(song, id);
}

/**
 * What is offered for a turn and was not dismissed.
 * @param song without the suggestion that is heard
 */
export function offered(
  turn = useWorkbench.getState().turn,
  song = songBefore(),
): readonly Suggestion[] {
  const pattern = turn && song && turned(song, turn.pattern);
  if (!pattern) return [];
  return suggestions(pattern, turn.seed, song.kit).filter(
    ({ kind }) => !turn.dismissed.includes(kind),
  );
}

/** Hears the loop with a suggestion in it; the same one again hears it without. */
export function hearTurn(kind: TurnKind): void {
  const { turn, playing } = useWorkbench.getState();
  if (!turn) return;
  if (turn.heard === kind) return hearNone();
  preview([{ type: 'take a turn', pattern: turn.pattern, kind, seed: turn.seed }], `hear: ${kind}`);
  useWorkbench.setState({ turn: { ...turn, heard: kind } });
  const pattern = withoutPreview(turn.pattern);
  if (!playing && pattern) {
    void play(Math.max(0, turnBar(pattern) - 1) * barTicks(pattern.meter));
  }
}

function hearNone(): void {
  cancelGesture();
  useWorkbench.setState(({ turn }) => ({ turn: turn && { ...turn, heard: undefined } }));
}

export function takeTurn(kind: TurnKind): void {
  const { turn } = useWorkbench.getState();
  if (!turn) return;
  hearNone();
  edit({ type: 'take a turn', pattern: turn.pattern, kind, seed: turn.seed }, `turn: ${kind}`);
}

export function dismissTurn(kind: TurnKind): void {
  const { turn } = useWorkbench.getState();
  if (!turn) return;
  if (turn.heard === kind) hearNone();
  useWorkbench.setState({
    turn: { ...turn, heard: undefined, dismissed: [...turn.dismissed, kind] },
  });
}

/** Hears the change after the one that is heard, round and round. */
export function hearNextTurn(): void {
  if (!useWorkbench.getState().turn) offerTurns();
  const kinds = offered().map(({ kind }) => kind);
  const { turn } = useWorkbench.getState();
  const next = kinds[(kinds.indexOf(turn?.heard as TurnKind) + 1) % kinds.length];
  if (next && next !== turn?.heard) hearTurn(next);
}

export function takeHeardTurn(): void {
  const { turn } = useWorkbench.getState();
  if (turn?.heard) takeTurn(turn.heard);
  else notify('Hear a change first: Y goes through those that are offered.');
}

export function dismissHeardTurn(): void {
  const { turn } = useWorkbench.getState();
  if (turn?.heard) dismissTurn(turn.heard);
  else notify('Hear a change first: Y goes through those that are offered.');
}

/** Other suggestions of the same kinds. */
export function otherTurns(): void {
  const { turn } = useWorkbench.getState();
  if (!turn) return;
  hearNone();
  useWorkbench.setState({
    turn: { ...turn, heard: undefined, dismissed: [], seed: turn.seed + 1 },
  });
}

export function closeTurns(): void {
  commitOrDrop();
  useWorkbench.setState({ turn: undefined });
}

function commitOrDrop(): void {
  if (useWorkbench.getState().turn?.heard) cancelGesture();
  else commitGesture();
}

/** Has the usual kit play what is on pieces that only this song has, such as slices of a loop. */
export function playOnUsualKit(): void {
  const shown = shownPattern(useWorkbench.getState());
  if (shown) editOrSay({ type: 'onto usual kit', pattern: shown.id }, 'usual kit');
}
