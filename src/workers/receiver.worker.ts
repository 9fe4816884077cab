import * as Comlink from 'comlink';

/** A message that came in. */
export interface Received {
  data: readonly number[];
  /** When it was due, and when it was there, in ms since 1970. */
  due: number;
  there: number;
}

/** A receiver waits for the next message with a timer up to here, in ms; then it looks at the clock. */
const CLOSE = 4;

/** What an instrument does at the other end of a cable: it takes each message when it is due, and notes when that was. */
class Receiver {
  private waiting: { data: readonly number[]; due: number }[] = [];
  private got: Received[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** @param due in ms since 1970 */
  send(data: readonly number[], due: number): void {
    const { waiting } = this;
    let at = waiting.length;
    while (at > 0 && waiting[at - 1].due > due) at--;
    waiting.splice(at, 0, { data, due });
    this.wait();
  }

  /** Forgets what is not due yet. */
  clear(): void {
    this.waiting = [];
    clearTimeout(this.timer);
  }

  /** What came in since it was asked last. */
  take(): Received[] {
    const got = this.got;
    this.got = [];
    return got;
  }

  private wait(): void {
    clearTimeout(this.timer);
    const [next] = this.waiting;
    if (!next) return;
    const left = next.due - now();
    this.timer = setTimeout(() => this.receive(), Math.max(0, left - CLOSE));
  }

  private receive(): void {
    const { waiting } = this;
    while (waiting.length > 0 && waiting[0].due - now() <= CLOSE) {
      const { data, due } = waiting.shift()!;
      while (now() < due);
      this.got.push({ data, due, there: now() });
    }
    this.wait();
  }
}

const now = () => performance.timeOrigin + performance.now();

export type ReceiverWorker = Receiver;

Comlink.expose(new Receiver());
