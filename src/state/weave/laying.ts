import { nanoid } from 'nanoid';
import { findPlace, type Command, type Song } from '@/core';
import { spanOver, type PieceId } from '@/core/model';
import { barAt, pulseTicks, type Ticks } from '@/core/time';
import {
  findSpan,
  laidPlaces,
  stackOf,
  type Others,
  type Scope,
  type SpanAddress,
  type Whose,
} from '@/core/weave';
import { notify } from '../notices/notices';
import { edit, editOrSay } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { chosenPlace, chosenPlaces, spotsNow } from './choosing';

/** How far what is laid goes: over one place, or into the section. */
export function whoseNow(): Whose {
  return useWorkbench.getState().reach === 'place' ? 'place' : 'section';
}

/** The places that another one follows: where sections join. */
export const joinPlaces = ({ places }: Pick<Song, 'places'>): string[] =>
  places.slice(0, -1).map(({ id }) => id);

/**
 * Lays a pattern over the end of the chosen places, or of others, as a fill; of several patterns one after another.
 * @param how `length` is for a single pattern: of several each is as long as it is
 */
export function layFill(
  patterns: string | readonly string[],
  how: {
    others?: Others;
    length?: Ticks;
    crash?: boolean;
    from?: Ticks;
    whose?: Whose;
    places?: readonly string[];
  } = {},
): boolean {
  const fills = [patterns].flat();
  const { whose = 'place', places = chosenPlaces(), ...rest } = how;
  const done = new Set<string>();
  let turn = 0;
  const commands = places.flatMap((place): Command[] => {
    const { section } = findPlace(openSongNow(), place)!;
    if (whose === 'section' && done.has(section)) return [];
    done.add(section);
    const pattern = fills[turn++ % fills.length];
    return [{ type: 'lay a fill', place, pattern, span: nanoid(8), whose, ...rest }];
  });
  if (commands.length === 0) {
    notify('Choose a section first: press its header.');
    return false;
  }
  return edit(commands, 'lay a fill');
}

/** Has the chosen places, their sections, or whatever plays what they play, play another pattern. */
export function playInstead(pattern: string): void {
  const { reach } = useWorkbench.getState();
  const song = openSongNow();
  const done = new Set<string>();
  const once = (name: string) => !done.has(name) && done.add(name);
  const commands = chosenPlaces().flatMap((id): Command[] => {
    const laid = laidPlaces(song).find(({ place }) => place.id === id)!;
    const span = spanOver(pattern, nanoid(8));
    if (reach === 'place') return [{ type: 'add overlay', place: id, span }];
    const base = stackOf(laid).findLast(
      ({ span: { pieces, mode }, from }) => pieces === 'all' && mode === 'replace' && from === 0,
    );
    if (reach === 'everywhere' && base) {
      const { pattern: other } = base.span;
      if (other === pattern || !once(other)) return [];
      return [{ type: 'replace pattern', pattern: other, by: pattern, scope: reach, places: [] }];
    }
    return once(laid.section.id) ? [{ type: 'add span', section: laid.section.id, span }] : [];
  });
  if (commands.length > 0) edit(commands, 'change pattern');
}

/** Silences the chosen row, or all rows, in the chosen bars or places. */
export function silenceChosen(): void {
  const { row } = useWorkbench.getState();
  const whose = whoseNow();
  const done = new Set<string>();
  const commands = spotsNow().flatMap(({ place, from, to }): Command[] => {
    const { section } = findPlace(openSongNow(), place)!;
    if (whose === 'section' && done.has(section)) return [];
    done.add(section);
    const pieces = row ? { pieces: [row] } : {};
    return [{ type: 'silence', place, from, to, whose, span: nanoid(8), ...pieces }];
  });
  if (commands.length === 0) return notify('Choose a section or some bars first.');
  edit(commands, 'silence');
}

export function takeOut(address: SpanAddress): void {
  if (editOrSay({ type: 'take out', ...address })) useWorkbench.setState({ laid: undefined });
}

export function chooseLaid(laid: SpanAddress | undefined): void {
  useWorkbench.setState({ laid });
}

/** Chooses what is laid over the chosen place, one after another. */
export function nextLaid(): void {
  const here = chosenPlace();
  if (!here) return;
  const over = stackOf(here).filter(({ overlay, span }) => overlay || span.role !== 'groove');
  if (over.length === 0) return notify('Nothing is laid over this place.');
  const { laid } = useWorkbench.getState();
  const now = over.findIndex(({ span }) => span.id === laid?.span);
  const { span, overlay } = over[(now + 1) % over.length];
  chooseLaid({
    of: overlay ? 'place' : 'section',
    id: overlay ? here.place.id : here.section.id,
    span: span.id,
  });
}

/** Slides what is chosen, or moves its end, by half beats as they are counted there. */
export function moveLaid(halves: number, edge: 'all' | 'start' | 'end'): void {
  const { laid } = useWorkbench.getState();
  const found = laid && findSpan(openSongNow(), laid);
  const here = chosenPlace();
  if (!laid || !found || !here)
    return notify('Choose a fill or a change first: press it, or its key.');
  const lies = stackOf(here).find(({ span }) => span.id === laid.span);
  if (!lies) return;
  const { meter } = barAt(here.section.meters, Math.max(0, lies.from));
  const by = (halves * pulseTicks(meter)) / 2;
  const length = lies.to - lies.from;
  const from = edge === 'end' ? lies.from : lies.from + by;
  const to = edge === 'start' ? lies.to : lies.to + by;
  const inside = edge === 'all' && (from < 0 || to > found.length);
  const bounded = inside
    ? from < 0
      ? { from: 0, to: length }
      : { from: found.length - length, to: found.length }
    : { from: Math.max(0, from), to: Math.max(from, to) };
  edit({ type: 'reshape span', ...laid, ...bounded });
}

/** Plays another pattern in place of one, as far as the scope goes. */
export function replacePattern(
  pattern: string,
  by: string,
  scope: Scope,
  pieces?: readonly PieceId[],
): boolean {
  const places = chosenPlaces();
  return editOrSay({
    type: 'replace pattern',
    pattern,
    by,
    scope,
    places,
    ...(pieces && pieces.length > 0 && { pieces }),
  });
}
