import { clockFrom, WIRE, type LiveMessage, type LivePart } from '../core/midi';
import type { Ticks } from '../core/time';
import { tempoOfSong } from '../core/weave';
import type { MusicNow } from './player';

/** Something that MIDI is sent to. */
export interface LivePort {
  id: string;
  name: string;
  /** @param at when it is due, in ms as `performance.now()` counts them */
  send(data: readonly number[], at: number): void;
  /** Withdraws what is not due yet; absent where a port cannot. */
  clear?: () => void;
}

/** A note that is ended early is no shorter: some instruments overhear those that are. */
const SHORTEST_MS = 20;

/** Ends every sound of a channel at once. Source: MIDI 1.0 Detailed Specification, "Channel Mode Messages". */
const ALL_SOUND_OFF = 120;

/** So far ahead messages are handed over: ports keep their times better than a page can. */
const AHEAD_MS = 150;
/** The transport was moved when it is so far from where it would have come to. */
const MOVED_MS = 60;

/** Sends what plays to MIDI outputs, as it is heard. It is told where the music is, and looks a little ahead. */
export class LiveOut {
  private part: LivePart | undefined;
  /** What was handed over: up to this tick, of a pass so many rounds of the loop ahead of what is heard. */
  private sent: { tick: Ticks; rounds: number } | undefined;
  private last: MusicNow | undefined;
  /** Notes that were begun and not ended yet, by output, channel and pitch, with when they begin. */
  private readonly sounding = new Map<string, { message: LiveMessage; at: number }>();
  /** Begins and ends of notes that were handed over and may not be due yet. */
  private ahead: { message: LiveMessage; at: number }[] = [];
  private clocked = false;

  constructor(private readonly ports: () => ReadonlyMap<string, LivePort>) {}

  /** Sends another part from here on; none is silence. */
  take(part: LivePart | undefined): void {
    // The ends of what sounds may not be in the other part.
    if (this.part) this.hush(performance.now(), SHORTEST_MS);
    this.part = part;
  }

  /** Goes on to where the music is. */
  follow(now: MusicNow): void {
    const { part, last } = this;
    this.last = now;
    this.ahead = this.ahead.filter((one) => one.at >= now.at);
    if (!now.playing || !part || !now.song) {
      if (last?.playing && this.sent) this.stop(now.at);
      this.sent = undefined;
      return;
    }
    const wrapped = this.wrapped(now, last);
    if (!this.sent || !last?.playing || this.isMoved(now, last, wrapped)) {
      this.begin(now, part);
    } else if (wrapped) this.sent.rounds--;
    this.sendAhead(now, part);
  }

  /** Whether the loop came round between two reports. */
  private wrapped(now: MusicNow, last: MusicNow | undefined): boolean {
    return last !== undefined && now.loop !== undefined && now.tick < last.tick;
  }

  private isMoved(now: MusicNow, last: MusicNow, wrapped: boolean): boolean {
    const tempo = tempoOfSong(now.song!);
    const from = tempo.secondsAt(last.tick);
    let to = tempo.secondsAt(now.tick);
    if (wrapped && now.loop) {
      to += tempo.secondsAt(now.loop.to) - tempo.secondsAt(now.loop.from);
    }
    return Math.abs((to - from) * 1000 - (now.at - last.at)) > MOVED_MS;
  }

  private begin(now: MusicNow, part: LivePart): void {
    this.withdraw(now.at);
    this.sent = { tick: now.tick, rounds: 0 };
    for (const { tick, data } of clockFrom(now.tick)) {
      const at = this.timeOf(now, Math.max(tick, now.tick), 0);
      for (const output of part.clocks) this.ports().get(output)?.send(data, at);
    }
    this.clocked = part.clocks.length > 0;
  }

  private sendAhead(now: MusicNow, part: LivePart): void {
    const tempo = tempoOfSong(now.song!);
    const sent = this.sent!;
    // A track that is sent early needs to be handed over earlier still.
    const early = Math.max(0, ...Object.values(part.routes).map(({ offset }) => -offset));
    const until = now.at + AHEAD_MS + early;
    for (;;) {
      const end = now.loop && now.loop.to > now.loop.from ? now.loop.to : part.end;
      const left = (until - this.timeOf(now, sent.tick, sent.rounds)) / 1000;
      if (left <= 0) return;
      const to = Math.min(end, tempo.tickAt(tempo.secondsAt(sent.tick) + left));
      for (const message of part.between(sent.tick, to)) {
        this.send(message, this.timeOf(now, message.tick, sent.rounds));
      }
      sent.tick = to;
      if (to < end || !now.loop) return;
      // What still sounds is ended where the loop comes round: its own end is not reached.
      this.hush(this.timeOf(now, end, sent.rounds));
      sent.tick = now.loop.from;
      sent.rounds++;
    }
  }

  /** When a tick is heard, so many rounds of the loop from now. */
  private timeOf({ at, tick: now, loop, song }: MusicNow, tick: Ticks, rounds: number): number {
    const tempo = tempoOfSong(song!);
    const round = loop ? tempo.secondsAt(loop.to) - tempo.secondsAt(loop.from) : 0;
    return at + (tempo.secondsAt(tick) - tempo.secondsAt(now) + rounds * round) * 1000;
  }

  private send(message: LiveMessage, at: number): void {
    const { output, data, offset } = message;
    const kind = data[0] & 0xf0;
    const key = `${output} ${data[0] & 15} ${data[1]}`;
    const due = at + offset;
    if (data[0] < 0xf0) {
      if (kind === 0x90) this.sounding.set(key, { message, at: due });
      // What was ended early is not ended again.
      else if (!this.sounding.delete(key)) return;
      this.ahead.push({ message, at: due });
    }
    this.ports().get(output)?.send(data, due);
  }

  /** Ends all notes at a time, but none before it has sounded for `least` ms. */
  private hush(at: number, least = 0): void {
    for (const { message, at: begun } of this.sounding.values()) {
      this.end(message, Math.max(at + message.offset, begun + least));
    }
    this.sounding.clear();
  }

  /** Ends a note, whatever began or ended it. */
  private end({ output, data }: LiveMessage, at: number): void {
    this.ports()
      .get(output)
      ?.send([0x80 | (data[0] & 15), data[1], 0], at);
  }

  /**
   * Silence from a time on: messages that were handed over for later are withdrawn, and where a port cannot do that,
   * each note is ended the moment it begins, with whatever rings of it.
   */
  private withdraw(at: number): void {
    const late = this.ahead.filter((one) => one.at >= at);
    this.ahead = [];
    const outputs = new Set([
      ...[...this.sounding.values(), ...late].map(({ message }) => message.output),
      ...(this.clocked ? (this.part?.clocks ?? []) : []),
    ]);
    const cleared = new Set<string>();
    for (const output of outputs) {
      const port = this.ports().get(output);
      if (!port?.clear) continue;
      port.clear();
      cleared.add(output);
    }
    const isOn = ({ data }: LiveMessage) => (data[0] & 0xf0) === 0x90;
    for (const { message, at: begun } of this.sounding.values())
      if (begun < at) this.end(message, at);
    this.sounding.clear();
    for (const { message, at: due } of late) {
      if (!isOn(message)) this.end(message, at);
      else if (!cleared.has(message.output)) {
        const { output, data } = message;
        this.end(message, due);
        this.ports()
          .get(output)
          ?.send([0xb0 | (data[0] & 15), ALL_SOUND_OFF, 0], due);
      }
    }
  }

  private stop(at: number): void {
    this.withdraw(at);
    if (!this.clocked) return;
    for (const output of this.part?.clocks ?? []) this.ports().get(output)?.send([WIRE.stop], at);
    this.clocked = false;
  }
}
