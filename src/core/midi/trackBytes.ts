/** The longest wait that one event of a file can state: four bytes of seven bits. */
const LONGEST_WAIT = 0x0fffffff;

/**
 * The bytes of one track in the making. Events are added in the order of their ticks.
 * Source: Standard MIDI Files 1.0, "MTrk event".
 */
export class TrackBytes {
  private bytes = new Uint8Array(1024);
  private length = 0;
  private tick = 0;

  /** A message of a channel with two values, each 0 to 127. */
  message(tick: number, status: number, first: number, second: number): void {
    this.wait(tick);
    // In place of `put`: by far the most bytes of a file are written here.
    const { bytes, length } = this;
    bytes[length] = status;
    bytes[length + 1] = first;
    bytes[length + 2] = second;
    this.length = length + 3;
  }

  /** What is said about the music, by its number in the standard. */
  meta(tick: number, kind: number, content: Uint8Array): void {
    this.wait(tick);
    this.room(content.length);
    this.put(0xff);
    this.put(kind);
    this.quantity(content.length);
    this.bytes.set(content, this.length);
    this.length += content.length;
  }

  text(tick: number, kind: number, text: string): void {
    this.meta(tick, kind, new TextEncoder().encode(text));
  }

  /** The track as it stands in a file, ended at a tick or with its last event. */
  chunk(end: number): Uint8Array {
    this.meta(Math.max(end, this.tick), 0x2f, new Uint8Array(0));
    const chunk = new Uint8Array(8 + this.length);
    chunk.set([0x4d, 0x54, 0x72, 0x6b]);
    new DataView(chunk.buffer).setUint32(4, this.length);
    chunk.set(this.bytes.subarray(0, this.length), 8);
    return chunk;
  }

  private wait(tick: number): void {
    let ticks = tick - this.tick;
    this.tick = tick;
    this.room(16);
    while (ticks > LONGEST_WAIT) {
      // A text of no characters says nothing, and passes the time.
      this.quantity(LONGEST_WAIT);
      for (const byte of [0xff, 0x01, 0x00]) this.put(byte);
      ticks -= LONGEST_WAIT;
      this.room(16);
    }
    this.quantity(ticks);
  }

  /** Seven bits a byte, the high bit saying that more follow. */
  private quantity(value: number): void {
    if (value >= 0x200000) this.put((value >> 21) | 0x80);
    if (value >= 0x4000) this.put(((value >> 14) & 0x7f) | 0x80);
    if (value >= 0x80) this.put(((value >> 7) & 0x7f) | 0x80);
    this.put(value & 0x7f);
  }

  private put(byte: number): void {
    this.bytes[this.length++] = byte;
  }

  /** Makes sure that so many bytes more have room, and those of a message after them. */
  private room(more: number): void {
    if (this.length + more + 16 <= this.bytes.length) return;
    const wider = new Uint8Array(2 * (this.bytes.length + more));
    wider.set(this.bytes);
    this.bytes = wider;
  }
}
