import { layoutOf, type NoteMap, type Song } from '../model';
import { PPQ, type Channel, type Ticks } from '../time';
import { songTicks } from '../weave';
import { drumTracks, notesOfHits, saidAs, type ExportOptions } from './export';

/** Where a track goes while it plays. */
export interface LiveRoute {
  /** An output by its id. */
  output: string;
  channel?: Channel;
  noteMap?: NoteMap;
  /** Milliseconds that it is sent later than it is heard; negative is earlier. */
  offset: number;
}

/** A message on its way out. */
export interface LiveMessage {
  /** When, in ticks of the song. */
  tick: Ticks;
  output: string;
  offset: number;
  /** Its bytes. */
  data: readonly number[];
}

/** Messages of the wire. Source: MIDI 1.0 Detailed Specification, "System Common" and "System Real Time". */
export const WIRE = {
  position: 0xf2,
  clock: 0xf8,
  start: 0xfa,
  continue: 0xfb,
  stop: 0xfc,
} as const;

/** A clock sends 24 pulses a quarter note; positions are counted in sixteenths. */
export const PULSE: Ticks = PPQ / 24;
const SIXTEENTH: Ticks = PPQ / 4;

/** Where a clock begins: from the top, or from the sixteenth at or behind a tick. */
export function clockFrom(tick: Ticks): { tick: Ticks; data: readonly number[] }[] {
  const place = Math.ceil(Math.max(0, tick) / SIXTEENTH - 1e-6);
  if (place === 0) return [{ tick: 0, data: [WIRE.start] }];
  const at = place * SIXTEENTH;
  const [low, high] = [place & 127, (place >> 7) & 127];
  return [
    { tick, data: [WIRE.position, low, high] },
    { tick: at, data: [WIRE.continue] },
  ];
}

/** What a song sends while it plays, in the order it is sent. */
export class LivePart {
  private readonly messages: LiveMessage[];
  readonly end: Ticks;

  /**
   * @param routes by the tracks of the layout in use; a track without one is not sent
   * @param clocks outputs that are sent a clock
   * @param heard which hits are sent; absent is all of them
   */
  constructor(
    song: Song,
    readonly routes: Readonly<Record<string, LiveRoute>>,
    readonly clocks: readonly string[] = [],
    heard?: ExportOptions['heard'],
  ) {
    this.end = songTicks(song);
    const layout = layoutOf(song);
    this.messages = drumTracks(song, { layout, heard }).flatMap(({ id, hits }) => {
      const route = id === undefined ? undefined : routes[id];
      if (!route) return [];
      const { output, offset, channel, noteMap } = route;
      const said = saidAs(song, { layout, tracks: { [id!]: { channel, noteMap } } }, id);
      const notes = notesOfHits(hits, {
        ...said,
        scale: (tick) => tick,
        end: this.end,
        lengths: 'played',
      });
      return notes.flatMap(({ on, off, channel: c, note, velocity }): LiveMessage[] => [
        { tick: on, output, offset, data: [0x90 | c, note, velocity] },
        { tick: off, output, offset, data: [0x80 | c, note, 0] },
      ]);
    });
    const isOff = ({ data }: LiveMessage) => (data[0] < 0x90 ? 0 : 1);
    // Of one moment, what ends comes before what begins.
    this.messages.sort((a, b) => a.tick - b.tick || isOff(a) - isOff(b));
  }

  /** What is sent from a tick on up to another, without that. */
  between(from: Ticks, to: Ticks): LiveMessage[] {
    const { messages, clocks } = this;
    const sent: LiveMessage[] = [];
    for (let i = this.firstAt(from); i < messages.length && messages[i].tick < to; i++) {
      sent.push(messages[i]);
    }
    if (clocks.length === 0) return sent;
    for (let n = Math.ceil(from / PULSE - 1e-9); n * PULSE < Math.min(to, this.end); n++) {
      if (n < 0) continue;
      for (const output of clocks) {
        sent.push({ tick: n * PULSE, output, offset: 0, data: [WIRE.clock] });
      }
    }
    return sent.sort((a, b) => a.tick - b.tick);
  }

  private firstAt(tick: Ticks): number {
    const { messages } = this;
    let low = 0;
    let high = messages.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (messages[middle].tick < tick) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}
