import type { BusSetting } from '../model';
import type { Hertz, Samples, TempoMap } from '../time';
import { usualDesk, type DeskTable } from './deskTable';
import { Lane } from './lane';
import { MOVE_SIZE } from './score';
import { Echo, Room } from './sends';
import { Strip } from './strip';
import type { Voice } from './voice';

type Bus = Room | Echo;

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

  /** Loudest sample of each strip since the last `takeTrackPeaks`. */
  private trackPeaks = new Float32Array(0);
  /** Loudest sample of each side since the last `takePeaks`. */
  private peakLeft = 0;
  private peakRight = 0;

  constructor(private readonly sampleRate: Hertz) {
    this.table = usualDesk();
    this.take(this.table);
  }

  /** Takes over a mix. What sounds glides to its new level and place. */
  take(table: DeskTable): void {
    const before = this.table;
    this.table = table;
    if (table.lanes !== before.lanes || this.lanes.length === 0) {
      this.lanes = table.lanes.map((setting) => new Lane(setting, this.sampleRate));
    }
    if (table.buses !== this.settings) this.takeBuses(table.buses);
    const fresh = this.strips.length !== table.strips.length;
    const jump = fresh || !this.lanes.some((lane) => lane.isSounding);
    if (fresh) {
      this.strips = table.strips.map(() => new Strip(this.sampleRate));
      this.trackPeaks = new Float32Array(table.strips.length);
    }
    table.strips.forEach((strip, i) => {
      const sends = Float32Array.from(
        table.buses,
        ({ id }) => strip.sends.find(({ bus }) => bus === id)?.level ?? 0,
      );
      this.strips[i].take(strip, sends, jump);
      this.strips[i].leadTo(table.lanes.filter((lane) => lane.strip === i).map(({ room }) => room));
    });
  }

  private takeBuses(settings: readonly BusSetting[]): void {
    this.settings = settings;
    this.buses = settings.map(({ kind, ring = 1.1 }) =>
      kind === 'room' ? new Room(this.sampleRate, ring) : new Echo(this.sampleRate),
    );
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
  locate(moves: Float64Array, tick: number, jump: boolean): void {
    this.table.strips.forEach((strip, i) => this.strips[i].take(strip, this.strips[i].sends, jump));
    for (let i = 0; i < moves.length && moves[i] <= tick; i += MOVE_SIZE) {
      const strip = this.strips[moves[i + 1]];
      strip?.move(moves[i + 2], moves[i + 3], 0);
      if (jump) strip?.arrive();
    }
  }

  /** Changes one thing of a strip from frame `wait` of the coming block on. */
  move(strip: number, what: number, value: number, wait: Samples): void {
    this.strips[strip]?.move(what, value, wait);
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
    if (!touch) return;
    const right = stereo ? voice.right : left;
    send(this.room, left, right, touch.room * lane.level, frames);
    send(this.echo, left, right, touch.echo * lane.level, frames);
  }

  /**
   * Mixes what was added into two sides.
   * @param stems where each strip goes by itself too, left and right after one another
   */
  mixTo(
    left: Float32Array,
    right: Float32Array,
    frames: number,
    stems?: readonly Float32Array[],
  ): void {
    const { lanes, strips, buses } = this;
    for (const lane of lanes) {
      if (!lane.isSounding) continue;
      const strip = strips[lane.strip];
      if (!strip.sounds) this.wake(strip, frames);
      if (!strip.rooms) lane.mixTo(strip.left, strip.right, frames);
      else strip.addLane(lane, frames);
    }
    for (let n = 0; n < strips.length; n++) {
      const strip = strips[n];
      if (!strip.sounds) {
        // What moves goes on moving while nothing sounds.
        strip.pass(frames);
        continue;
      }
      strip.apply(frames);
      strip.sounds = false;
      let peak = this.trackPeaks[n];
      for (let i = 0; i < frames; i++) {
        const l = strip.left[i];
        const r = strip.right[i];
        left[i] += l;
        right[i] += r;
        if (l > peak) peak = l;
        else if (-l > peak) peak = -l;
        if (r > peak) peak = r;
        else if (-r > peak) peak = -r;
      }
      this.trackPeaks[n] = peak;
      stems?.[2 * n].set(strip.left.subarray(0, frames));
      stems?.[2 * n + 1].set(strip.right.subarray(0, frames));
      for (let b = 0; b < buses.length; b++) {
        const share = strip.sends[b];
        if (share > 0) send(buses[b], strip.left, strip.right, share, frames);
      }
      if (strip.rooms) send(this.room, strip.roomLeft, strip.roomRight, 1, frames);
      else send(this.room, strip.left, strip.right, strip.room, frames);
    }
    for (let b = 0; b < buses.length; b++) {
      if (buses[b].isSounding) buses[b].mixTo(left, right, frames, this.settings[b].level);
    }
  }

  private wake(strip: Strip, frames: number): void {
    strip.sounds = true;
    strip.clear(frames);
  }

  /** Keeps both sides within bounds, and remembers how loud they were. */
  finish(left: Float32Array, right: Float32Array, frames: number): void {
    this.peakLeft = bound(left, frames, this.peakLeft);
    this.peakRight = bound(right, frames, this.peakRight);
  }

  takePeaks(): [left: number, right: number] {
    const peaks: [number, number] = [this.peakLeft, this.peakRight];
    this.peakLeft = 0;
    this.peakRight = 0;
    return peaks;
  }

  /** The loudest sample of each strip in order, before rooms and echoes; the last one is the guides'. */
  takeTrackPeaks(): Float32Array {
    const peaks = this.trackPeaks.slice();
    this.trackPeaks.fill(0);
    return peaks;
  }

  /** Whether a room or an echo still rings. */
  get isRinging(): boolean {
    for (const bus of this.buses) if (bus.isSounding) return true;
    return false;
  }
}

/** Sends two sides to a bus: a room has two sides itself, an echo has one. */
function send(
  bus: Bus | undefined,
  left: Float32Array,
  right: Float32Array,
  share: number,
  frames: number,
): void {
  if (!bus || share <= 0) return;
  bus.wake();
  if (bus instanceof Echo) {
    for (let i = 0; i < frames; i++) bus.input[i] += (left[i] + right[i]) * 0.5 * share;
    return;
  }
  const [toLeft, toRight] = bus.input;
  for (let i = 0; i < frames; i++) {
    toLeft[i] += left[i] * share;
    toRight[i] += right[i] * share;
  }
}

/** Samples are left alone up to here; louder ones are bent, and none passes the ceiling, a decibel under full. */
const ALONE = 0.72;
const CEILING = 0.89;

/**
 * Bends what is too loud.
 * @returns the largest of `peak` and the sizes of the samples
 */
function bound(samples: Float32Array, frames: number, peak: number): number {
  const room = CEILING - ALONE;
  for (let i = 0; i < frames; i++) {
    const sample = samples[i];
    let size = sample < 0 ? -sample : sample;
    if (size > ALONE) {
      size = ALONE + room * Math.tanh((size - ALONE) / room);
      samples[i] = sample < 0 ? -size : size;
    }
    if (size > peak) peak = size;
  }
  return peak;
}
