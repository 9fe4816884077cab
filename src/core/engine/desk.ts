import { MOST_OUTPUTS, type BusSetting } from '../model';
import type { Hertz, Samples, Seconds, TempoMap, Ticks } from '../time';
import { usualDesk, type DeskTable, type StripTable } from './deskTable';
import { LoudnessMeter } from '../sound';
import { BLOCK } from './block';
import { Chain } from './chain';
import { Lane } from './lane';
import { Limiter } from './limiter';
import { MOVE_SIZE } from './score';
import { Echo, Room } from './sends';
import { Gliding, Strip } from './strip';
import type { Voice } from './voice';

type Bus = Room | Echo;

/** What is read of each track at once: its loudest sample, what was held back in dB, its loudness in LUFS. */
export const TRACK_SIZE = 3;

/** What all drums were like. */
export interface MasterReading {
  /** The most that dynamics and limiter held back, in decibels. */
  reduction: number;
  limited: number;
  /** In LUFS, over the last three seconds and since play was pressed; -Infinity for silence. */
  shortTerm: number;
  integrated: number;
  /** The loudest sample since play was pressed. */
  peak: number;
}

/** A level or place of what all share arrives after this share of a second. */
const GLIDE = 0.01;

/** Lanes, strips, buses and the mix: what strokes go through on their way out. */
export class Desk {
  private lanes: Lane[] = [];
  private strips: Strip[] = [];
  private buses: Bus[] = [];
  private settings: readonly BusSetting[] = [];
  private table: DeskTable;
  /** The first bus of each kind: what single hits are sent to. */
  private room: Room | undefined;
  private echo: Echo | undefined;

  /** All drums together, before the limiter. */
  private readonly sum = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;
  private readonly chain: Chain;
  private readonly drums: Gliding;
  private busLevels: Gliding[] = [];
  private readonly limiter: Limiter;
  /** What goes out on other pairs comes as late as what the limiter lets through. */
  private readonly late: readonly Float32Array[];
  private readonly loudness: LoudnessMeter;
  private limited = 1;
  /** Loudest sample since play was pressed. */
  private loudest = 0;

  /** Loudest sample of each strip since the last `takeTracks`. */
  private trackPeaks = new Float32Array(0);
  /** Loudest sample of each side since the last `takePeaks`. */
  private peakLeft = 0;
  private peakRight = 0;

  /** @param measures how loud tracks and mix are, for those who look at it */
  constructor(
    private readonly sampleRate: Hertz,
    private readonly measures = true,
  ) {
    this.table = usualDesk();
    this.chain = new Chain(sampleRate, 2);
    this.drums = new Gliding(GLIDE * sampleRate);
    this.limiter = new Limiter(sampleRate);
    this.late = Array.from(
      { length: 2 * (MOST_OUTPUTS - 1) },
      () => new Float32Array(this.limiter.delay + BLOCK),
    );
    this.loudness = new LoudnessMeter(sampleRate);
    this.take(this.table);
  }

  /** Takes over a mix. What sounds glides to its new level and place. */
  take(table: DeskTable): void {
    const before = this.table;
    this.table = table;
    if (table.lanes !== before.lanes || this.lanes.length === 0) this.takeLanes(table.lanes);
    if (table.buses !== this.settings) this.takeBuses(table.buses);
    const fresh = this.strips.length !== table.strips.length;
    const jump = fresh || !this.lanes.some((lane) => lane.isSounding);
    if (fresh) {
      this.strips = table.strips.map(() => new Strip(this.sampleRate));
      this.trackPeaks = new Float32Array(table.strips.length);
    }
    table.strips.forEach((strip, i) => {
      this.strips[i].take(strip, sendsOf(strip, table), jump);
      const rooms = table.lanes.filter((lane) => lane.strip === i).map(({ room }) => room);
      this.strips[i].leadTo(rooms, jump);
    });
    this.chain.take(table.drums, jump);
    this.drums.aim(table.drums.level);
    if (jump) this.drums.arrive();
    this.limiter.take(table.drums.ceiling);
  }

  /** Lanes that lead where they led stay, and what sounds in them goes on. */
  private takeLanes(settings: DeskTable['lanes']): void {
    const { lanes } = this;
    const leadOn =
      lanes.length === settings.length &&
      lanes.every((lane, i) => lane.strip === settings[i].strip);
    if (leadOn) lanes.forEach((lane, i) => lane.take(settings[i]));
    else this.lanes = settings.map((setting) => new Lane(setting, this.sampleRate));
  }

  private takeBuses(settings: readonly BusSetting[]): void {
    const before = this.settings;
    this.settings = settings;
    this.buses = settings.map(({ id, kind, ring = 1.1 }) => {
      const known = this.buses[before.findIndex((one) => one.id === id && one.kind === kind)];
      if (known instanceof Room) known.setRing(ring);
      return (
        known ?? (kind === 'room' ? new Room(this.sampleRate, ring) : new Echo(this.sampleRate))
      );
    });
    this.busLevels = settings.map(({ id, level }) => {
      const known = this.busLevels[before.findIndex((one) => one.id === id)];
      const gliding = known ?? new Gliding(GLIDE * this.sampleRate);
      gliding.aim(level);
      if (!known) gliding.arrive();
      return gliding;
    });
    this.room = this.buses.find((bus): bus is Room => bus instanceof Room);
    this.echo = this.buses.find((bus): bus is Echo => bus instanceof Echo);
  }

  /** Lets echoes repeat in the tempo of the song. */
  follow(tempo: TempoMap): void {
    this.buses.forEach((bus, i) => {
      const { beats = 0.75 } = this.settings[i];
      if (bus instanceof Echo) bus.setTime((beats * 60) / tempo.bpmAt(0));
    });
  }

  /**
   * Has every strip as it is at a moment of the song.
   * @param moves see `Score`
   * @param jump at once; otherwise what sounds glides there
   */
  locate(moves: Float64Array, tempo: TempoMap, tick: number, jump: boolean): void {
    const { table, strips } = this;
    table.strips.forEach((strip, i) => strips[i].take(strip, sendsOf(strip, table), jump));
    const now = tempo.secondsAt(tick);
    const samplesAt = (at: Ticks, to: Seconds) =>
      Math.round((to - tempo.secondsAt(at)) * this.sampleRate);
    /** When each strip set out last, and whether it takes its time. */
    const last = new Map<Strip, { at: Ticks; ramps: boolean }>();
    const passUntil = (strip: Strip, to: Seconds) => {
      const set = last.get(strip);
      if (set) strip.skip(set.ramps ? samplesAt(set.at, to) : Infinity);
    };
    for (let i = 0; i < moves.length && moves[i] <= tick; i += MOVE_SIZE) {
      const at = moves[i];
      const strip = strips[moves[i + 1]];
      if (!strip) continue;
      const before = last.get(strip);
      const isFirst = before?.at !== at;
      if (jump && isFirst) passUntil(strip, tempo.secondsAt(at));
      const takes = Math.round(moves[i + 4] * this.sampleRate);
      // A strip that sounds goes on from where it is, and has the rest of the time.
      const ramp = jump ? takes : Math.max(0, takes - samplesAt(at, now));
      strip.move(moves[i + 2], moves[i + 3], 0, ramp);
      last.set(strip, { at, ramps: takes > 0 || (!isFirst && before.ramps) });
    }
    if (jump) for (const strip of last.keys()) passUntil(strip, now);
  }

  /**
   * Changes one thing of a strip from frame `wait` of the coming block on.
   * @param ramp how long it takes to get there
   */
  move(strip: number, what: number, value: number, wait: Samples, ramp: Seconds): void {
    this.strips[strip]?.move(what, value, wait, Math.round(ramp * this.sampleRate));
  }

  /** Takes what a voice puts out in the coming block. */
  addVoice(voice: Voice, frames: number): void {
    const lane = this.lanes[voice.lane] ?? this.lanes[0];
    if (voice.isSimple) {
      lane.wake();
      voice.mix(lane.buffer, frames);
      return;
    }
    voice.mixAny(frames);
    const { touch, left, stereo } = voice;
    const pan = touch?.pan ?? 0;
    if (stereo || pan !== 0) lane.addWide(left, stereo ? voice.right : left, pan, frames);
    else {
      lane.wake();
      for (let i = 0; i < frames; i++) lane.buffer[i] += left[i];
    }
    if (!touch || this.strips[lane.strip].isMuted) return;
    const right = stereo ? voice.right : left;
    send(this.room, left, right, touch.room * lane.level, frames);
    send(this.echo, left, right, touch.echo * lane.level, frames);
  }

  /**
   * Mixes what was added into two sides.
   * @param stems where each strip goes by itself too, left and right after one another
   * @param pairs the other pairs of outputs there are, left and right after one another
   */
  mixTo(
    left: Float32Array,
    right: Float32Array,
    frames: number,
    stems?: readonly Float32Array[],
    pairs: readonly Float32Array[] = NO_PAIRS,
  ): void {
    const { lanes, strips, buses } = this;
    for (const lane of lanes) {
      if (!lane.isSounding) continue;
      const strip = strips[lane.strip];
      if (!strip.sounds) this.wake(strip, frames);
      if (!strip.rooms) lane.mixTo(strip.left, strip.right, frames);
      else strip.addLane(lane, frames);
    }
    const { sum } = this;
    const [toLeft, toRight] = sum;
    toLeft.fill(0, 0, frames);
    toRight.fill(0, 0, frames);
    for (let n = 0; n < strips.length; n++) {
      const strip = strips[n];
      if (!strip.sounds) {
        // What moves goes on moving while nothing sounds.
        strip.pass(frames);
        continue;
      }
      strip.apply(frames);
      strip.sounds = false;
      if (this.measures) this.measure(strip, n, frames);
      const dry = strip.dry.now;
      const drier = strip.dry.after(frames);
      const own = 2 * (this.table.strips[n].output - 1);
      if (own >= 0 && own + 1 < pairs.length) this.addOwn(strip, own, frames);
      else {
        addPart(strip, toLeft, toRight, 1 - dry, 1 - drier, frames);
        addPart(strip, left, right, dry, drier, frames);
      }
      stems?.[2 * n].set(strip.left.subarray(0, frames));
      stems?.[2 * n + 1].set(strip.right.subarray(0, frames));
      for (let b = 0; b < buses.length; b++) {
        const share = strip.sends[b];
        send(buses[b], strip.left, strip.right, share.now, frames, share.after(frames));
      }
      if (strip.rooms) send(this.room, strip.roomLeft, strip.roomRight, 1, frames);
      else send(this.room, strip.left, strip.right, strip.roomBefore, frames, strip.room);
      strip.passed(frames);
    }
    for (let b = 0; b < buses.length; b++) {
      const level = this.busLevels[b];
      if (buses[b].isSounding) {
        buses[b].mixTo(toLeft, toRight, frames, level.now, level.after(frames));
      }
      level.pass(frames);
    }
    this.chain.process(sum, frames);
    const { drums } = this;
    addPart({ left: toLeft, right: toRight }, left, right, drums.now, drums.after(frames), frames);
    drums.pass(frames);
    for (let n = 0; n < pairs.length; n++) this.bringLate(n, pairs[n], frames);
  }

  /** Adds a strip to a pair of its own. */
  private addOwn(strip: Strip, pair: number, frames: number): void {
    const { delay } = this.limiter;
    for (let side = 0; side < 2; side++) {
      const from = side === 0 ? strip.left : strip.right;
      const to = this.late[pair + side];
      for (let i = 0; i < frames; i++) to[delay + i] += from[i];
    }
  }

  /** Lets out what has waited as long as the limiter looks ahead. */
  private bringLate(n: number, output: Float32Array, frames: number): void {
    const waiting = this.late[n];
    output.set(waiting.subarray(0, frames));
    waiting.copyWithin(0, frames);
    waiting.fill(0, waiting.length - frames);
  }

  private measure(strip: Strip, n: number, frames: number): void {
    strip.loudness.process(strip.left, strip.right, frames);
    this.trackPeaks[n] = largest(strip.left, strip.right, frames, this.trackPeaks[n]);
  }

  private wake(strip: Strip, frames: number): void {
    strip.sounds = true;
    strip.clear(frames);
  }

  /** Keeps both sides under the ceiling, and remembers how loud they were. */
  finish(left: Float32Array, right: Float32Array, frames: number): void {
    this.limited = Math.min(this.limited, this.limiter.process(left, right, frames));
    if (!this.measures) return;
    this.loudness.process(left, right, frames);
    this.peakLeft = largest(left, left, frames, this.peakLeft);
    this.peakRight = largest(right, right, frames, this.peakRight);
    this.loudest = Math.max(this.loudest, this.peakLeft, this.peakRight);
  }

  takePeaks(): [left: number, right: number] {
    const peaks: [number, number] = [this.peakLeft, this.peakRight];
    this.peakLeft = 0;
    this.peakRight = 0;
    return peaks;
  }

  /** Rows of `TRACK_SIZE` numbers, a strip each, before rooms and echoes; the last one is the guides'. */
  takeTracks(): Float32Array {
    const rows = new Float32Array(this.strips.length * TRACK_SIZE);
    this.strips.forEach((strip, n) => {
      const row = n * TRACK_SIZE;
      rows[row] = this.trackPeaks[n];
      rows[row + 1] = strip.takeReduction();
      rows[row + 2] = strip.loudness.shortTerm;
    });
    this.trackPeaks.fill(0);
    return rows;
  }

  takeMaster(): MasterReading {
    const { limited, loudness, loudest } = this;
    this.limited = 1;
    return {
      reduction: this.chain.takeReduction(),
      limited: -20 * Math.log10(limited),
      shortTerm: loudness.shortTerm,
      integrated: loudness.integrated,
      peak: loudest,
    };
  }

  /** Loudness and the loudest sample are measured from now on. */
  measureAnew(): void {
    this.loudness.reset();
    this.loudest = 0;
  }

  get delay(): Samples {
    return this.limiter.delay;
  }

  /** Whether a room or an echo still rings. */
  get isRinging(): boolean {
    for (const bus of this.buses) if (bus.isSounding) return true;
    return this.limiter.isSounding;
  }
}

const NO_PAIRS: readonly Float32Array[] = [];

/** What of a strip goes to each bus. */
function sendsOf({ sends }: StripTable, { buses }: DeskTable): number[] {
  return buses.map(({ id }) => sends.find(({ bus }) => bus === id)?.level ?? 0);
}

/** Adds a share of two sides, which may move along the block. */
function addPart(
  from: { left: Float32Array; right: Float32Array },
  left: Float32Array,
  right: Float32Array,
  share: number,
  then: number,
  frames: number,
): void {
  if (share === 0 && then === 0) return;
  const step = (then - share) / frames;
  for (let i = 0; i < frames; i++) {
    const now = share + step * i;
    left[i] += from.left[i] * now;
    right[i] += from.right[i] * now;
  }
}

/** Sends two sides to a bus: a room has two sides itself, an echo has one. */
function send(
  bus: Bus | undefined,
  left: Float32Array,
  right: Float32Array,
  share: number,
  frames: number,
  then = share,
): void {
  if (!bus || (share <= 0 && then <= 0)) return;
  bus.wake();
  const step = (then - share) / frames;
  if (bus instanceof Echo) {
    for (let i = 0; i < frames; i++) {
      bus.input[i] += (left[i] + right[i]) * 0.5 * (share + step * i);
    }
    return;
  }
  const [toLeft, toRight] = bus.input;
  addPart({ left, right }, toLeft, toRight, share, then, frames);
}

/** The largest of `peak` and the sizes of the samples of both sides. */
function largest(left: Float32Array, right: Float32Array, frames: number, peak: number): number {
  for (let i = 0; i < frames; i++) {
    const l = left[i] < 0 ? -left[i] : left[i];
    const r = right[i] < 0 ? -right[i] : right[i];
    if (l > peak) peak = l;
    if (r > peak) peak = r;
  }
  return peak;
}
