import type { NoteReading } from './noteReading';
import type { Channel, NoteNumber, Velocity } from '../time';

/**
 * The notes of a source, in the source's own ticks: one array a property instead of one object a
 * note, because a file can hold a great many and they live only until they have become hits.
 */
export class SourceNotes {
  length = 0;
  readonly ticks: Int32Array;
  readonly durations: Int32Array;
  readonly notes: Uint8Array;
  readonly velocities: Uint8Array;
  readonly channels: Uint8Array;
  /** How long after its beginning a note is stopped by hand, by its index; few are. */
  readonly chokes = new Map<number, number>();

  /** @param capacity how many notes there can be at most */
  constructor(capacity: number) {
    this.ticks = new Int32Array(capacity);
    this.durations = new Int32Array(capacity);
    this.notes = new Uint8Array(capacity);
    this.velocities = new Uint8Array(capacity);
    this.channels = new Uint8Array(capacity);
  }

  /** Cuts notes that last longer, and their chokes. @returns how many were cut */
  lastAtMost(ticks: number): number {
    let cut = 0;
    for (let i = 0; i < this.length; i++) {
      if (this.durations[i] <= ticks) continue;
      this.durations[i] = ticks;
      cut++;
    }
    for (const [i, choke] of this.chokes) if (choke > ticks) this.chokes.set(i, ticks);
    return cut;
  }

  /** @returns the index of the new note */
  add(
    tick: number,
    duration: number,
    note: NoteNumber,
    velocity: Velocity,
    channel: Channel,
  ): number {
    const at = this.length++;
    this.ticks[at] = tick;
    this.durations[at] = duration;
    this.notes[at] = note;
    this.velocities[at] = velocity;
    this.channels[at] = channel;
    return at;
  }

  /** The wanted ones of several lists in order of time; of equal times in the order of the lists. */
  static merged(
    lists: readonly SourceNotes[],
    wanted: (list: number, index: number) => boolean,
  ): SourceNotes {
    const rows = lists.flatMap((list, l) =>
      Array.from({ length: list.length }, (_, i) => ({ list, i })).filter(({ i }) => wanted(l, i)),
    );
    rows.sort((a, b) => a.list.ticks[a.i] - b.list.ticks[b.i]);
    const merged = new SourceNotes(rows.length);
    for (const { list, i } of rows) {
      const { ticks, durations, notes, velocities, channels } = list;
      const at = merged.add(ticks[i], durations[i], notes[i], velocities[i], channels[i]);
      const choke = list.chokes.get(i);
      if (choke !== undefined) merged.chokes.set(at, choke);
    }
    return merged;
  }

  /**
   * How often each note is struck.
   * @param counts room for the answer
   */
  counts(counts = new Uint32Array(128)): Uint32Array {
    counts.fill(0);
    for (let i = 0; i < this.length; i++) counts[this.notes[i]]++;
    return counts;
  }

  /** Whether there is a note on a channel. */
  isOn(channel: Channel): boolean {
    return this.channels.subarray(0, this.length).includes(channel);
  }

  /** Reads every note through a note map, in place. */
  readAs(reading: NoteReading): void {
    for (let i = 0; i < this.length; i++) this.notes[i] = reading[this.notes[i]];
  }

  /** The notes before a tick, of notes that are in order. */
  before(tick: number): SourceNotes {
    return SourceNotes.merged([this], (_, i) => this.ticks[i] < tick);
  }
}
