/** Where the bytes of a file go, each once, in any order. */
export interface Target {
  write(position: number, bytes: Uint8Array<ArrayBuffer>): void | Promise<void>;
}

/** So many bytes are in memory before they are handed to the browser, which may put them on the disk. */
const SEGMENT = 16 * 1024 ** 2;

/** A file in memory, as far as the browser keeps it there. */
export class InMemory implements Target {
  private readonly pieces: { position: number; blob: Blob }[] = [];
  private parts: Uint8Array<ArrayBuffer>[] = [];
  private from = 0;
  private to = 0;

  write(position: number, bytes: Uint8Array<ArrayBuffer>): void {
    if (position !== this.to) this.handOver(position);
    this.parts.push(bytes);
    this.to += bytes.length;
    if (this.to - this.from >= SEGMENT) this.handOver(this.to);
  }

  private handOver(next: number): void {
    if (this.parts.length > 0) {
      this.pieces.push({ position: this.from, blob: new Blob(this.parts) });
    }
    this.parts = [];
    this.from = next;
    this.to = next;
  }

  blob(type: string): Blob {
    this.handOver(0);
    const ordered = this.pieces.sort((a, b) => a.position - b.position);
    return new Blob(
      ordered.map(({ blob }) => blob),
      { type },
    );
  }
}

/** A file on the disk. What is written is only there once it is closed: until then what was there stays. */
export class OnDisk implements Target {
  constructor(readonly stream: FileSystemWritableFileStream) {}

  write(position: number, data: Uint8Array<ArrayBuffer>): Promise<void> {
    return this.stream.write({ type: 'write', position, data });
  }

  /**
   * The same for what writes into a stream and closes it: that waits until all files are closed.
   * @param from where its first byte goes
   */
  openAt(
    from: number,
  ): WritableStream<{ type: 'write'; position: number; data: Uint8Array<ArrayBuffer> }> {
    return new WritableStream({
      write: (chunk) => this.stream.write({ ...chunk, position: from + chunk.position }),
    });
  }
}
