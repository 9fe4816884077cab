import { pieceOf, type PieceId } from '@/core/model';
import { PPQ, pulseTicks, type NoteNumber, type Ticks } from '@/core/time';
import {
  barAround,
  barOfSong,
  cloth,
  laidPlaces,
  performedSong,
  shelfOf,
  songBars,
  tickOfBar,
  type Performed,
} from '@/core/weave';
import { create } from 'zustand';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { edit } from '../session/edit';
import { keepBefore } from '../session/savePoints';
import { openSongNow, useWorkbench } from '../store';
import { play, playhead, setHear, stop } from '../transport/transport';
import { selectPlace } from './choosing';

/** When a change takes over. */
export const WAITS = ['beat', 'bar', 'phrase'] as const;
export type Wait = (typeof WAITS)[number];

/** Rolls that are held, by their speed. */
export const ROLLS: readonly (readonly [every: Ticks, name: string])[] = [
  [480, '1/8'],
  [240, '1/16'],
  [160, '1/16 triplets'],
  [120, '1/32'],
];

/** What a key, a pad on screen or a note of a controller does. */
export type Pad = { key: string } & (
  | { does: 'section'; section: string }
  | { does: 'pattern'; pattern: string; pieces?: readonly PieceId[] }
  | { does: 'mute'; piece: PieceId }
  | { does: 'roll'; every: Ticks }
);

interface Performing {
  wait: Wait;
  pads: readonly Pad[];
  /** The piece that rolls are played on. */
  rolled: PieceId;
  /** What was done so far, and whether it goes on. */
  done: readonly Performed[];
  running: boolean;
  /** Where it was stopped. */
  end: Ticks;
  /** Keys whose pads are on: laid patterns and muted pieces; the section that was called last. */
  on: readonly string[];
}

export const usePerforming = create<Performing>(() => ({
  wait: 'bar',
  pads: [],
  rolled: 'snare',
  done: [],
  running: false,
  end: 0,
  on: [],
}));

const SECTION_KEYS = '1234567890';
const PATTERN_KEYS = 'qwertyuiop';
const MUTE_KEYS = 'asdfghjkl';
const ROLL_KEYS = 'zxcv';

/** Pads for a song as it is: sections, patterns, pieces and rolls, each on its row of keys. */
function padsFor(): Pad[] {
  const song = openSongNow();
  const order = [...new Set(song.places.map(({ section }) => section))];
  const pieces = cloth(song).rows.map(({ piece }) => piece);
  return [
    ...order
      .slice(0, SECTION_KEYS.length)
      .map((section, i): Pad => ({ key: SECTION_KEYS[i], does: 'section', section })),
    ...shelfOf(song)
      .slice(0, PATTERN_KEYS.length)
      .map(({ id }, i): Pad => ({ key: PATTERN_KEYS[i], does: 'pattern', pattern: id })),
    ...pieces
      .slice(0, MUTE_KEYS.length)
      .map((piece, i): Pad => ({ key: MUTE_KEYS[i], does: 'mute', piece })),
    ...ROLLS.map(([every], i): Pad => ({ key: ROLL_KEYS[i], does: 'roll', every })),
  ];
}

/** Opens the pads to perform the song's order. */
export function openPerforming(): void {
  if (openSongNow().places.length === 0) {
    return notify('Lay out some sections first: they are what is performed.');
  }
  startOver();
  usePerforming.setState({ pads: padsFor() });
  openDialog('perform');
}

/** A note of a controller while the order is performed: its lowest pads are the first ones here. */
export function performNote(note: NoteNumber): boolean {
  if (useWorkbench.getState().dialog !== 'perform') return false;
  const pad = usePerforming.getState().pads[note - 36];
  if (pad) press(pad);
  return true;
}

/** A note of a controller that ends: a roll that it began ends with it. */
export function performNoteEnd(note: NoteNumber): void {
  const pad = usePerforming.getState().pads[note - 36];
  if (pad) letGo(pad);
}

/** Puts something else on a key. */
export function assign(key: string, pad: Pad): void {
  usePerforming.setState(({ pads }) => ({
    pads: pads.map((one) => (one.key === key ? pad : one)),
  }));
}

export function setWait(wait: Wait): void {
  usePerforming.setState({ wait });
}

/** Forgets what was performed. */
export function startOver(): void {
  if (usePerforming.getState().running) stop();
  usePerforming.setState({ done: [], running: false, end: 0, on: [] });
  useWorkbench.setState({ beside: undefined });
}

/** So far ahead what plays is laid out, when nothing else is called. */
const AHEAD: Ticks = 64 * 4 * PPQ;
/** A change that comes within this of its line, in ticks, waits for the next one. */
const TOO_LATE: Ticks = 60;

/** What is heard now: the performance as it would go on. */
function heardNow() {
  const { done } = usePerforming.getState();
  const start = playhead();
  return performedSong(openSongNow(), done, start + AHEAD);
}

/** The line at which a change takes over. */
function lineAfter(wait: Wait): Ticks {
  const song = heardNow();
  const now = playhead() + TOO_LATE;
  const { from, to } = barAround(song, now);
  if (wait === 'bar') return to;
  if (wait === 'beat') {
    const beat = pulseTicks(barOfSong(song, now).meter);
    return Math.min(to, from + (Math.floor((now - from) / beat) + 1) * beat);
  }
  const laid = laidPlaces(song).findLast(({ start }) => start <= now);
  if (!laid) return to;
  const bar = barOfSong(song, now).bar - laid.firstBar;
  const phrase = Math.min(laid.section.bars, (Math.floor(bar / 4) + 1) * 4);
  return phrase === laid.section.bars ? laid.end : tickOfBar(song, laid.firstBar + phrase + 1);
}

function add(one: Performed): void {
  usePerforming.setState(({ done }) => ({ done: [...done, one].sort((a, b) => a.at - b.at) }));
  const { running } = usePerforming.getState();
  useWorkbench.setState({ beside: { song: heardNow(), ...(running && { at: one.at }) } });
}

/** A pad that was pressed. Rolls go on until they are let go. */
export function press(pad: Pad): void {
  const { running, wait, on, rolled } = usePerforming.getState();
  if (!running) {
    if (pad.does !== 'section') {
      return notify('It begins with a section: press one of the first row.');
    }
    usePerforming.setState({ done: [], on: [pad.key], end: 0 });
    setHear('song');
    add({ at: 0, does: 'section', section: pad.section });
    usePerforming.setState({ running: true });
    void play(0);
    return;
  }
  const at = lineAfter(wait);
  const isOn = on.includes(pad.key);
  const turn = (keys: readonly string[]) => usePerforming.setState({ on: keys });
  const others = on.filter((key) => key !== pad.key);
  if (pad.does === 'section') {
    const sections = usePerforming.getState().pads.filter(({ does }) => does === 'section');
    const keys = sections.map(({ key }) => key);
    turn([...on.filter((key) => !keys.includes(key)), pad.key]);
    add({ at, does: 'section', section: pad.section });
  } else if (pad.does === 'pattern') {
    turn(isOn ? others : [...on, pad.key]);
    const { pattern, pieces } = pad;
    add(
      isOn
        ? { at, does: 'take off', pattern }
        : { at, does: 'lay', pattern, ...(pieces && { pieces }) },
    );
  } else if (pad.does === 'mute') {
    turn(isOn ? others : [...on, pad.key]);
    add({ at, does: isOn ? 'unmute' : 'mute', piece: pad.piece });
  } else if (!isOn) {
    turn([...on, pad.key]);
    const { every } = pad;
    const next = Math.ceil((playhead() + TOO_LATE) / every) * every;
    add({ at: next, does: 'roll', piece: rolled, every });
  }
}

/** A pad that was let go: a roll ends with the stroke that is under way. */
export function letGo(pad: Pad): void {
  const { on, done, running } = usePerforming.getState();
  if (pad.does !== 'roll' || !on.includes(pad.key)) return;
  const { every } = pad;
  const until = Math.ceil((playhead() + TOO_LATE) / every) * every;
  usePerforming.setState({
    on: on.filter((key) => key !== pad.key),
    done: done.map((one) =>
      one.does === 'roll' && one.every === every && one.until === undefined
        ? { ...one, until: Math.max(one.at + every, until) }
        : one,
    ),
  });
  useWorkbench.setState({ beside: { song: heardNow(), ...(running && { at: until }) } });
}

/** Ends the performance with the bar that plays. */
export function stopPerforming(): void {
  const { running } = usePerforming.getState();
  if (!running) return;
  const end = barAround(heardNow(), playhead()).to;
  stop();
  usePerforming.setState({ running: false, end });
  useWorkbench.setState({ beside: undefined });
}

/** What was performed, as a song: up to now while it goes on. */
export function performedNow() {
  const { done, running, end } = usePerforming.getState();
  const song = openSongNow();
  return performedSong(song, done, running ? Math.max(1, playhead()) : end);
}

/** Keeps what was performed as the order of the song: one step of undo. */
export async function keepPerformed(): Promise<boolean> {
  stopPerforming();
  const { done, end } = usePerforming.getState();
  if (done.length === 0) {
    notify('Nothing was performed yet: press a section to begin.');
    return false;
  }
  await keepBefore('the performed order');
  const command = { type: 'perform', performance: { done }, end } as const;
  if (!edit(command, 'perform the order')) return false;
  const song = openSongNow();
  selectPlace(song.places[0]?.id);
  notify(`The performed order is kept: ${song.places.length} places, ${songBars(song)} bars.`);
  return true;
}

/** What is on a pad, in words. */
export function saidPad(pad: Pad): string {
  const song = openSongNow();
  if (pad.does === 'section')
    return song.sections.find(({ id }) => id === pad.section)?.name ?? '–';
  if (pad.does === 'mute') return pieceOf(pad.piece, song.kit).name;
  if (pad.does === 'roll') return ROLLS.find(([every]) => every === pad.every)?.[1] ?? '';
  const name = song.patterns.find(({ id }) => id === pad.pattern)?.name ?? '–';
  const { pieces } = pad;
  return pieces
    ? `${name}: ${pieces.map((id) => pieceOf(id, song.kit).name.toLowerCase()).join(', ')}`
    : name;
}

// Whatever stops the playing ends the performance.
useWorkbench.subscribe((state, before) => {
  if (state.playing || !before.playing) return;
  if (usePerforming.getState().running) stopPerforming();
});
