import { nanoid } from 'nanoid';
import { findPattern, type Command, type Pattern } from '@/core';
import { byStaffOrder, nextDye, pieceOf, placeOfSpan, type PieceId } from '@/core/model';
import { misfit, sameMusic, type Fit, type TakeMode } from '@/core/pattern';
import { meterName } from '@/core/time';
import {
  isOtherMeter,
  laidPlaces,
  liesOver,
  meterOfStretch,
  patternToLay,
  positionAt,
  stackOf,
  timeline,
  type LaidPlace,
  type Laying,
  type Range,
  type Reach,
} from '@/core/weave';
import { edit } from '../session/edit';
import { chosenPattern, grooveById, useGather } from './gather';
import { kitOf, openSongNow, shownPattern, useWorkbench } from '../store';
import { notify } from '../notices/notices';

/** How strands are laid over the song. */
export interface Over {
  /** The place they are laid over, or the one the bars begin in. */
  place: string;
  /** Only these bars of the song, in ticks; absent is the whole place. */
  bars?: Range;
  reach: Reach;
  mode: TakeMode;
  /** Other pieces that fall silent for them. */
  instead?: readonly PieceId[];
  /** What becomes of bars of another meter; absent lets them run on. */
  fit?: Fit;
}

/** Pieces in words: "hi-hat and kick". */
export const namesOf = (pieces: readonly PieceId[]) =>
  pieces
    .map((piece) => pieceOf(piece, kitOf(useWorkbench.getState())).name.toLowerCase())
    .join(' and ');

/** The ticks of the song that are laid over. */
function rangeOf({ place, bars }: Over): Range | undefined {
  const laid = laidPlaces(openSongNow()).find((one) => one.place.id === place);
  return laid && (bars ?? { from: laid.start, to: laid.end });
}

function layingOf(pattern: Pattern, pieces: readonly PieceId[], over: Over): Laying | undefined {
  const range = rangeOf(over);
  const { mode, instead = [], fit = 'repeat' } = over;
  // What reaches everywhere goes into patterns, and is laid over nothing.
  const reach = over.reach === 'place' ? 'place' : 'section';
  return range && pieces.length > 0
    ? { pattern, pieces, instead, ...range, reach, mode, fit }
    : undefined;
}

/** The patterns that play the kit in a stretch, but for fills and what is changed there only. */
function patternsThere(over: Over): string[] {
  const song = openSongNow();
  const range = rangeOf(over);
  if (!range) return [];
  const found = laidPlaces(song).flatMap((laid) =>
    stackOf(laid).flatMap(({ span, from, to }) =>
      span.role === 'groove' && laid.start + from < range.to && laid.start + to > range.from
        ? [span.pattern]
        : [],
    ),
  );
  return [...new Set(found)];
}

/** A stretch of the song, and the place it lies in. */
interface Stretch extends Range {
  place: string;
}

/** Where the song plays any of some patterns. */
function playing(patterns: readonly string[]): Stretch[] {
  return laidPlaces(openSongNow()).flatMap((laid) =>
    stackOf(laid)
      .filter(({ span }) => patterns.includes(span.pattern))
      .map(({ from, to }) => stretchIn(laid, { from, to })),
  );
}

const stretchIn = ({ place, start }: LaidPlace, { from, to }: Range): Stretch => ({
  place: place.id,
  from: start + from,
  to: start + to,
});

/** The bars and rows of the song that an act would change. */
export interface Changed {
  stretches: readonly Range[];
  /** Only these rows; absent is all. */
  pieces?: readonly PieceId[];
}

/** The bars and rows that strands laid over the song would change. */
export function changedOver(pattern: Pattern, pieces: readonly PieceId[], over: Over): Changed {
  const changed = [...new Set([...pieces, ...(over.instead ?? [])])];
  if (over.reach === 'everywhere') {
    return { stretches: playing(patternsThere(over)), pieces: changed };
  }
  const laying = layingOf(pattern, pieces, over);
  return { stretches: laying ? changedBy(laying) : [], pieces: changed };
}

/** Whether bars of this pattern are of another meter than what it would be laid over. */
export function isOtherMeterThere(pattern: Pattern, over: Over): boolean {
  const laying = layingOf(pattern, ['any'], over);
  return laying !== undefined && isOtherMeter(openSongNow(), laying);
}

/** Where the song would change: in one place, or in all places of each section. */
function changedBy(laying: Laying): Stretch[] {
  const song = openSongNow();
  return liesOver(song, laying, '', () => '').flatMap(({ reach, laid, span }) =>
    laidPlaces(song)
      .filter(({ place, section }) =>
        reach === 'section' ? section.id === laid.section.id : place.id === laid.place.id,
      )
      .flatMap((one) => {
        const lies = placeOfSpan(span, one.end - one.start);
        return lies ? [stretchIn(one, lies)] : [];
      }),
  );
}

/** How many places of the song some stretches lie in. */
const countPlaces = (stretches: readonly Stretch[]) =>
  new Set(stretches.map(({ place }) => place)).size;

const saidPlaces = (count: number) => (count === 1 ? '1 place' : `${count} places`);

const SAID_IN_METER: Readonly<Record<Fit, string>> = {
  repeat: 'it runs on across the bar lines',
  cut: 'each of its bars is cut to that',
  stretch: 'each of its bars is stretched to that',
};

/** What is laid where, in words. */
function saidOver(laying: Laying, { bars, place }: Over): string {
  const song = openSongNow();
  const { pattern, pieces, instead = [], from, to, mode, fit } = laying;
  const name = laidPlaces(song).find((laid) => laid.place.id === place)?.section.name ?? '';
  const [first, last] = [from, to - 1].map((tick) => positionAt(song, tick).bar);
  const where = bars ? `bars ${first} to ${last}` : name;
  const silent = instead.filter((piece) => !pieces.includes(piece));
  const how = mode === 'add' && silent.length === 0 ? 'beside what is in' : 'over';
  const rounds = (to - from) / patternToLay(song, laying).length;
  const times =
    rounds > 1
      ? `, ${Math.ceil(rounds * 100) / 100} times over`
      : rounds < 1
        ? ', cut at its end'
        : '';
  const meter = meterOfStretch(song, laying);
  const other =
    meter && isOtherMeter(song, laying)
      ? `; it is in ${meterName(pattern.meter)} and that in ${meterName(meter)}: ${SAID_IN_METER[fit]}`
      : '';
  const gone = silent.length > 0 ? ` in place of ${namesOf(silent)}` : '';
  return `${namesOf(pieces)} of “${pattern.name}”${gone} ${how} ${where}${times}${other}`;
}

/** What laying strands over the song would do, in a sentence. */
export function saysOver(
  pattern: Pattern,
  pieces: readonly PieceId[],
  over: Over,
): string | undefined {
  const laying = layingOf(pattern, pieces, over);
  if (laying && over.reach === 'everywhere') {
    const targets = patternsThere(over);
    const names = targets.map((id) => `“${findPattern(openSongNow(), id)?.name}”`).join(' and ');
    const count = countPlaces(playing(targets));
    return targets.length > 0
      ? `${namesOf(pieces)} of “${pattern.name}” into ${names} everywhere: changes ${saidPlaces(count)}`
      : 'no pattern plays there';
  }
  return (
    laying && `${saidOver(laying, over)}: changes ${saidPlaces(countPlaces(changedBy(laying)))}`
  );
}

/**
 * Lays strands of a groove over a place of the song, its whole section, or some bars. The groove goes
 * onto the shelf, so that the cloth can say where it comes from; what lies below stays.
 */
export function takeOver(pattern: Pattern, pieces: readonly PieceId[], over: Over): boolean {
  if (over.reach === 'everywhere') {
    const { mode, fit = 'repeat' } = over;
    return takeIntoPatterns(pattern, pieces, patternsThere(over), { mode, fit });
  }
  const laying = layingOf(pattern, pieces, over);
  if (!laying) return false;
  const song = openSongNow();
  const kept = keptOf(patternToLay(song, laying), laying);
  const lies = liesOver(song, laying, kept.id, () => nanoid(8));
  const commands = lies.map(({ reach, laid, span }): Command =>
    reach === 'section'
      ? { type: 'add span', section: laid.section.id, span }
      : { type: 'add overlay', place: laid.place.id, span },
  );
  if (kept.command) commands.unshift(kept.command);
  const done = capital(saidOver(laying, over));
  const count = countPlaces(changedBy(laying));
  if (commands.length === 0 || !edit(commands, `take ${namesOf(pieces)}`)) return false;
  notify(`${done}: ${saidPlaces(count)} changed.`);
  return true;
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** The pattern as it is on the shelf, found by its hits, or the command that puts it there. */
function keptOf(wanted: Pattern, { pattern, pieces }: Laying): { id: string; command?: Command } {
  const song = openSongNow();
  const kept = song.patterns.find((other) => sameMusic(other, wanted));
  if (kept) return { id: kept.id };
  const groove = grooveById(useGather.getState().chosen);
  const name =
    wanted.strands.length < pattern.strands.length
      ? `${pattern.name}, ${namesOf(pieces)}`
      : pattern.name;
  const value: Pattern = {
    ...wanted,
    id: nanoid(8),
    name: wanted.meter === pattern.meter ? name : `${name}, in ${meterName(wanted.meter)}`,
    dye: nextDye(song),
    ...(groove &&
      useWorkbench.getState().stage === 'gather' && {
        groove: { id: groove.id, name: groove.name, family: groove.family },
      }),
  };
  return { id: value.id, command: { type: 'add pattern', value } };
}

/** The pieces that are heard there now, from the top of the staff, but for those that are taken. */
export function piecesThere(over: Over, taken: readonly PieceId[]): PieceId[] {
  const range = rangeOf(over);
  if (!range) return [];
  const there = new Set(
    timeline(openSongNow()).flatMap(({ tick, piece }) =>
      tick >= range.from && tick < range.to ? [piece] : [],
    ),
  );
  return [...there].filter((piece) => !taken.includes(piece)).sort(byStaffOrder);
}

/** The bars that loop, where they are not just the place that would be laid over anyway. */
export function barsThatLoop(): Range | undefined {
  const { songLoop, bars, stage } = useWorkbench.getState();
  if (stage === 'weave' && bars) return bars;
  const whole = laidPlaces(openSongNow()).some(
    ({ start, end }) => start === songLoop?.from && end === songLoop.to,
  );
  return whole ? undefined : songLoop;
}

/** Puts some strands of a pattern onto the shelf, as a pattern of their own. */
export function keepStrands(pattern: Pattern, pieces: readonly PieceId[]): boolean {
  const strands = pattern.strands.filter(({ piece }) => pieces.includes(piece));
  const whole = pattern.strands.every(
    ({ piece, hits }) => hits.length === 0 || pieces.includes(piece),
  );
  const { joined: _, ...rest } = pattern;
  const value: Pattern = {
    ...rest,
    strands,
    id: nanoid(8),
    name: whole ? pattern.name : `${pattern.name}, ${namesOf(pieces)}`,
    dye: nextDye(openSongNow()),
  };
  if (!edit({ type: 'add pattern', value }, `keep ${namesOf(pieces)}`)) return false;
  notify(`“${value.name}” is on the shelf.`);
  return true;
}

/** Takes strands into one or many patterns. */
export function takeIntoPatterns(
  source: Pattern,
  pieces: readonly PieceId[],
  targets: readonly string[],
  { mode, fit }: { mode: TakeMode; fit: Fit },
): boolean {
  const commands = commandsInto(source, pieces, targets, { mode, fit });
  if (edit(commands, `take ${namesOf(pieces)}`)) {
    const count = targets.length === 1 ? '1 pattern' : `${targets.length} patterns`;
    notify(`${capital(namesOf(pieces))} of “${source.name}” taken: ${count} changed.`);
    return true;
  }
  notify('Those strands of the groove are empty: there is nothing to take.', 'error');
  return false;
}

export function commandsInto(
  source: Pattern,
  pieces: readonly PieceId[],
  targets: readonly string[],
  { mode, fit }: { mode: TakeMode; fit: Fit },
): Command[] {
  const song = openSongNow();
  // What is taken wears a dye of its own, so that the row can say where it came from.
  const dyed = findPattern(song, source.id) ? source : { ...source, dye: nextDye(song) };
  return targets.map((pattern) => ({
    type: 'copy parts',
    pattern,
    source: dyed,
    pieces,
    mode,
    fit,
  }));
}

/** What has to be settled before the strands fit these patterns. */
export function misfitsOf(source: Pattern, targets: readonly string[]): string[] {
  const song = openSongNow();
  return targets.flatMap((id) => {
    const target = findPattern(song, id);
    const why = target && misfit(target, source);
    return why ? [`“${target.name}”: ${why}.`] : [];
  });
}

/** What strands are taken from: the groove in Gather, the shown pattern elsewhere. */
export function takeSource(): Pattern | undefined {
  const state = useWorkbench.getState();
  return state.stage === 'gather' ? chosenPattern() : shownPattern(state);
}

/** The strands that are chosen of the groove that is looked at; all of them when none is. */
export function chosenPieces(): PieceId[] {
  const pattern = takeSource();
  const { pieces } = useGather.getState();
  const there = (pattern?.strands ?? []).filter(({ hits }) => hits.length > 0);
  const wanted = there.filter(({ piece }) => pieces.includes(piece));
  return (wanted.length > 0 ? wanted : there).map(({ piece }) => piece);
}

/** The place whose drums a candidate is heard in. */
export function placeHere(): string | undefined {
  const { songLoop, placeId, stage } = useWorkbench.getState();
  const laid = laidPlaces(openSongNow());
  const chosen = laid.some(({ place }) => place.id === placeId);
  if (stage === 'weave' && chosen) return placeId;
  if (songLoop) {
    return laid.findLast(({ start }) => start <= songLoop.from)?.place.id;
  }
  return laid.find(({ place }) => place.id === placeId)?.place.id ?? laid[0]?.place.id;
}
