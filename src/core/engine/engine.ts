import type { SoundId } from '../model/pieces';
import { usualStrip, type KitSound, type StripSetting } from '../sound/kit';
import type { Hertz, Samples, Seconds, Velocity } from '../time/units';
import type { CountIn, Score } from './score';
import { STRIP_PIECES, TOUCH_SIZE } from './score';
import { Echo, Room } from './sends';
import { BLOCK, Strip } from './strip';
import { Voice } from './voice';

const VOICES = 96;

/** Note numbers, the few sounds that General MIDI has no note for, and the strings of guides. */
const SOUNDS = 256;

/** A choked cymbal is silent within this time. */
const CHOKE: Seconds = 0.012;

/** A cymbal or drum that is struck again and again rings on from so many strokes at most. */
const RINGS = 5;

/** What a sixth stroke takes the place of fades under it within this time. */
const OVERLAID: Seconds = 0.04;

/** What is played: where the hits are, which loop, and from where a start is gated. */
interface Cue {
  /** Sample position of each event, in order. */
  at: Float64Array;
  /** Which hit of the score the event is. */
  hit: Uint32Array;
}

/** A song made ready to be played: taking it over allocates nothing. */
interface Taken {
  score: Score;
  song: Cue;
  looped: Cue;
  clickAt: Float64Array<ArrayBuffer>;
}

/** A stretch that plays round and round, in seconds from the start of the song. */
export interface Loop {
  from: Seconds;
  to: Seconds;
}

export interface PlayOptions {
  from: Seconds;
  countIn?: CountIn;
}

/**
 * Transport, voices, strips and mix in one object: the same class plays in the audio worklet and
 * renders in a worker. Positions are whole samples, so that a hit starts at exactly the sample its
 * tick says; nothing is allocated while it processes.
 */
export class Engine {
  private score: Score = NO_SCORE;
  private readonly sounds: (KitSound | undefined)[] = new Array(SOUNDS);
  private readonly turns = new Uint32Array(SOUNDS);
  private readonly voices = Array.from({ length: VOICES }, () => new Voice());
  private readonly strips: Strip[];
  private readonly clickSounds: [Float32Array, Float32Array];
  private readonly clickVoice = new Voice();
  private readonly clickBuffer = new Float32Array(BLOCK);
  private readonly touched = new Float32Array(BLOCK);
  private readonly room: Room;
  private readonly echo: Echo;

  private song: Cue = NO_CUE;
  private looped: Cue = NO_CUE;
  private loop: { from: Samples; to: Samples; seconds: Loop } | undefined;
  /** A song that waits for its moment. */
  private pending: { taken: Taken; at: Samples } | undefined;
  private clickAt = new Float64Array(0);
  private countAt = new Float64Array(0);

  private playing = false;
  private position: Samples = 0;
  /** Hits whose step falls before this are not part of the take that was started. */
  private gate: Seconds = -Infinity;
  private start: Samples = 0;
  private click = false;
  private readonly strikes: { note: SoundId; velocity: Velocity; strip: number }[] = [];

  /** Loudest sample of each side since the last `takePeaks`. */
  private peakLeft = 0;
  private peakRight = 0;

  constructor(readonly sampleRate: Hertz) {
    this.strips = [
      ...STRIP_PIECES.map((piece) => new Strip(usualStrip(piece), sampleRate)),
      new Strip(GUIDE_SETTING, sampleRate),
    ];
    this.room = new Room(sampleRate);
    this.echo = new Echo(sampleRate);
    this.clickSounds = [clickSound(sampleRate, 1320), clickSound(sampleRate, 990)];
  }

  /** Gives the engine the strokes of a note; until then the note is silent. */
  load(sound: KitSound): void {
    this.sounds[sound.note] = sound;
  }

  setStrip(index: number, setting: StripSetting): void {
    this.strips[index].set(setting, this.sampleRate);
  }

  /**
   * Takes over an edited song; what plays goes on from where it is.
   * @param at waits until the transport comes to this moment; absent is the next block
   */
  setScore(score: Score, at?: Seconds): void {
    this.pending = undefined;
    const count = score.seconds.length;
    const song = { at: new Float64Array(count), hit: new Uint32Array(count) };
    for (let i = 0; i < count; i++) {
      song.at[i] = this.samplesAt(score.seconds[i]);
      song.hit[i] = i;
    }
    const taken: Taken = {
      score,
      song,
      looped: this.loop ? this.cueOfLoop(score, song) : NO_CUE,
      clickAt: Float64Array.from(score.clicks, (seconds) => this.samplesAt(seconds)),
    };
    if (at !== undefined && this.playing) this.pending = { taken, at: this.samplesAt(at) };
    else this.take(taken);
  }

  private take({ score, song, looped, clickAt }: Taken): void {
    this.score = score;
    this.song = song;
    this.looped = looped;
    this.clickAt = clickAt;
    this.echo.setTime(score.echo);
  }

  private takePending(): void {
    if (this.pending) this.take(this.pending.taken);
    this.pending = undefined;
  }

  setLoop(loop: Loop | undefined): void {
    const from = loop ? this.samplesAt(loop.from) : 0;
    const to = loop ? this.samplesAt(loop.to) : 0;
    const long = loop && to - from >= BLOCK;
    this.loop = long ? { from, to, seconds: loop } : undefined;
    this.looped = long ? this.cueOfLoop(this.score, this.song) : NO_CUE;
    if (this.pending) {
      const { taken } = this.pending;
      taken.looped = long ? this.cueOfLoop(taken.score, taken.song) : NO_CUE;
    }
  }

  setClick(on: boolean): void {
    this.click = on;
  }

  play({ from, countIn }: PlayOptions): void {
    this.takePending();
    this.start = this.samplesAt(from);
    this.gate = from - 1e-6;
    this.silence();
    this.turns.fill(0);
    if (countIn && countIn.before.length > 0) {
      this.countAt = countIn.before.map((before) => this.start - this.samplesAt(before));
      this.position = this.countAt[0];
    } else {
      this.countAt = new Float64Array(0);
      this.position = this.start;
      this.strikeEarlyHits();
    }
    this.playing = true;
  }

  /** Stops; what rings dies away quickly. */
  stop(): void {
    this.takePending();
    this.playing = false;
    this.silence();
  }

  /** Goes elsewhere; plays on from there if it plays. */
  locate(to: Seconds): void {
    if (this.playing) {
      this.play({ from: to });
    } else {
      this.position = this.samplesAt(to);
    }
  }

  /** Sounds one stroke at the start of the next block, whether the transport runs or not. */
  strike(note: SoundId, velocity: Velocity, strip: number): void {
    this.strikes.push({ note, velocity, strip });
  }

  get isPlaying(): boolean {
    return this.playing;
  }

  get positionSeconds(): Seconds {
    return this.position / this.sampleRate;
  }

  /** Whether anything still sounds. */
  get isSounding(): boolean {
    return (
      this.voices.some((voice) => voice.active) || this.room.isSounding || this.echo.isSounding
    );
  }

  takePeaks(): [left: number, right: number] {
    const peaks: [number, number] = [this.peakLeft, this.peakRight];
    this.peakLeft = 0;
    this.peakRight = 0;
    return peaks;
  }

  /** Fills `frames` frames of both sides. Works in blocks of 128, whatever is asked for. */
  process(left: Float32Array, right: Float32Array, frames: number): void {
    if (frames <= BLOCK) {
      this.processBlock(left, right, frames);
      return;
    }
    for (let done = 0; done < frames; done += BLOCK) {
      const to = Math.min(frames, done + BLOCK);
      this.processBlock(left.subarray(done, to), right.subarray(done, to), to - done);
    }
  }

  private processBlock(left: Float32Array, right: Float32Array, frames: number): void {
    left.fill(0);
    right.fill(0);
    for (const { note, velocity, strip } of this.strikes) this.startVoice(note, velocity, strip, 0);
    this.strikes.length = 0;
    if (this.playing) this.advance(frames);
    this.mixVoices(frames);
    this.mixStrips(left, right, frames);
    if (this.clickVoice.active) {
      this.clickBuffer.fill(0);
      this.clickVoice.mix(this.clickBuffer, 0, frames);
      for (let i = 0; i < frames; i++) {
        left[i] += this.clickBuffer[i];
        right[i] += this.clickBuffer[i];
      }
    }
    this.peakLeft = bound(left, frames, this.peakLeft);
    this.peakRight = bound(right, frames, this.peakRight);
  }

  /** Apart from the strips, so that the compiler makes one tight loop of each. */
  private mixVoices(frames: number): void {
    for (const voice of this.voices) {
      if (!voice.active) continue;
      const strip = this.strips[voice.strip];
      if (voice.touch !== undefined) {
        this.mixTouched(voice, strip, frames);
        continue;
      }
      strip.wake();
      voice.mix(strip.buffer, 0, frames);
    }
  }

  private mixStrips(left: Float32Array, right: Float32Array, frames: number): void {
    for (const strip of this.strips) strip.mixTo(left, right, frames);
    if (this.room.isSounding) this.room.mixTo(left, right, frames);
    if (this.echo.isSounding) this.echo.mixTo(left, right, frames);
  }

  /** A stroke whose sound is changed: it may stand elsewhere, and be sent to room and echo. */
  private mixTouched(voice: Voice, strip: Strip, frames: number): void {
    const { touched } = this;
    const { pan, room, echo } = voice.touch!;
    voice.mixTouched(touched, frames);
    if (pan !== 0) strip.addWide(touched, pan, frames);
    else {
      strip.wake();
      for (let i = 0; i < frames; i++) strip.buffer[i] += touched[i];
    }
    if (room > 0) {
      this.room.wake();
      const { input } = this.room;
      for (let i = 0; i < frames; i++) input[i] += touched[i] * room * strip.level;
    }
    if (echo > 0) {
      this.echo.wake();
      const { input } = this.echo;
      for (let i = 0; i < frames; i++) input[i] += touched[i] * echo * strip.level;
    }
  }

  /** Starts everything that falls into the coming frames and moves the position on. */
  private advance(frames: number): void {
    let offset = 0;
    while (offset < frames) {
      const { loop, pending } = this;
      const inLoop = loop !== undefined && this.position >= loop.from && this.position < loop.to;
      let span = frames - offset;
      if (loop && this.position < loop.from) span = Math.min(span, loop.from - this.position);
      if (inLoop) span = Math.min(span, loop.to - this.position);
      if (pending && this.position < pending.at) span = Math.min(span, pending.at - this.position);
      this.startBetween(inLoop ? this.looped : this.song, this.position, span, offset);
      this.position += span;
      offset += span;
      if (pending && this.position >= pending.at) this.takePending();
      if (inLoop && this.position >= loop.to) {
        this.position = loop.from;
        this.gate = -Infinity;
      }
    }
    const over = this.position - this.samplesAt(this.score.end);
    if (over >= 0 && !this.loop && !this.isSounding) this.playing = false;
  }

  private startBetween(cue: Cue, from: Samples, span: Samples, offset: Samples): void {
    const { score } = this;
    const to = from + span;
    for (let i = firstFrom(cue.at, from); i < cue.at.length && cue.at[i] < to; i++) {
      const hit = cue.hit[i];
      if (score.homes[hit] < this.gate) continue;
      this.startVoice(
        score.notes[hit],
        score.velocities[hit],
        score.strips[hit],
        offset + cue.at[i] - from,
        score.touch[hit],
      );
    }
    if (from < this.start) {
      for (let i = firstFrom(this.countAt, from); i < this.countAt.length; i++) {
        if (this.countAt[i] >= to) break;
        this.startClick(i === 0, offset + this.countAt[i] - from);
      }
    }
    if (this.click) {
      const first = firstFrom(
        this.clickAt,
        Math.max(from, this.gate === -Infinity ? from : this.start),
      );
      for (let i = first; i < this.clickAt.length && this.clickAt[i] < to; i++) {
        this.startClick(score.downbeats[i] === 1, offset + this.clickAt[i] - from);
      }
    }
  }

  /** Hits of the first step that are played before it sound at once when nothing counts in. */
  private strikeEarlyHits(): void {
    const { score, song, gate, start } = this;
    for (let i = firstFrom(song.at, start) - 1; i >= 0; i--) {
      if (song.at[i] < start - this.sampleRate) break;
      const hit = song.hit[i];
      if (score.homes[hit] >= gate) {
        this.strike(score.notes[hit], score.velocities[hit], score.strips[hit]);
      }
    }
  }

  private startVoice(
    note: SoundId,
    velocity: Velocity,
    strip: number,
    wait: Samples,
    touch = 0,
  ): void {
    const sound = this.sounds[note];
    if (!sound) return;
    let free: Voice | undefined;
    let oldest = this.voices[0];
    let oldestOfSound: Voice | undefined;
    let rings = 0;
    for (const voice of this.voices) {
      if (!voice.active) {
        free ??= voice;
        continue;
      }
      if (sound.choke !== 0 && voice.choke === sound.choke) {
        voice.cut(wait, CHOKE * this.sampleRate);
      } else if (voice.note === note && !voice.isCut) {
        rings++;
        if (!oldestOfSound || voice.age > oldestOfSound.age) oldestOfSound = voice;
      }
      if (voice.age > oldest.age) oldest = voice;
    }
    if (rings >= RINGS) oldestOfSound?.cut(wait, OVERLAID * this.sampleRate);
    const turn = this.turns[note]++ % sound.alternates.length;
    const voice = free ?? oldest;
    voice.start(sound.alternates[turn], velocity, strip, sound, wait);
    if (touch > 0) {
      voice.change(this.score.touches, (touch - 1) * TOUCH_SIZE, this.sampleRate);
    }
  }

  private startClick(downbeat: boolean, wait: Samples): void {
    const body = this.clickSounds[downbeat ? 0 : 1];
    this.clickVoice.start({ body, edge: NO_SAMPLES }, 100, 0, NO_SOUND, wait);
  }

  private silence(): void {
    for (const voice of this.voices) if (voice.active) voice.cut(0, CHOKE * this.sampleRate);
    this.room.reset();
    this.echo.reset();
  }

  private samplesAt(seconds: Seconds): Samples {
    return Math.round(seconds * this.sampleRate);
  }

  /**
   * The events of a loop by their steps: a hit that is played before the loop's start, but belongs
   * to its first step, sounds at the end of each round, just before that step comes again.
   */
  private cueOfLoop(score: Score, song: Cue): Cue {
    const { from, to, seconds: loop } = this.loop!;
    const events: [at: number, hit: number][] = [];
    for (let i = 0; i < score.homes.length; i++) {
      if (score.homes[i] < loop.from - 1e-6 || score.homes[i] >= loop.to - 1e-6) continue;
      const length = to - from;
      events.push([from + ((((song.at[i] - from) % length) + length) % length), i]);
    }
    events.sort((a, b) => a[0] - b[0]);
    return {
      at: Float64Array.from(events, (event) => event[0]),
      hit: Uint32Array.from(events, (event) => event[1]),
    };
  }
}

/** Guides stand in the middle and a little behind the kit. */
const GUIDE_SETTING: StripSetting = {
  level: 0.8,
  pan: 0,
  filters: [
    { kind: 'highpass', frequency: 32, q: 0.7, gain: 0 },
    { kind: 'highshelf', frequency: 2600, q: 0.7, gain: -5 },
  ],
};

const NO_SAMPLES = new Float32Array(0);
const NO_SOUND = { note: 0, choke: 0 };
const NO_CUE: Cue = { at: new Float64Array(0), hit: new Uint32Array(0) };
const NO_SCORE: Score = {
  seconds: new Float64Array(0),
  homes: new Float64Array(0),
  notes: new Uint8Array(0),
  velocities: new Uint8Array(0),
  strips: new Uint8Array(0),
  touch: new Uint32Array(0),
  touches: new Float32Array(0),
  echo: 0.36,
  clicks: new Float64Array(0),
  downbeats: new Uint8Array(0),
  end: 0,
};

/** Index of the first value that is not below `value`. */
function firstFrom(sorted: Float64Array, value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * Leaves samples up to 0.75 alone and bends louder ones so that none passes 1.
 * @returns the largest of `peak` and the sizes of the samples
 */
function bound(samples: Float32Array, frames: number, peak: number): number {
  for (let i = 0; i < frames; i++) {
    const sample = samples[i];
    let size = sample < 0 ? -sample : sample;
    if (size > 0.75) {
      size = 0.75 + 0.25 * Math.tanh((size - 0.75) / 0.25);
      samples[i] = sample < 0 ? -size : size;
    }
    if (size > peak) peak = size;
  }
  return peak;
}

function clickSound(sampleRate: Hertz, frequency: Hertz): Float32Array {
  const samples = new Float32Array(Math.round(0.045 * sampleRate));
  for (let i = 0; i < samples.length; i++) {
    const t = i / sampleRate;
    samples[i] = 0.4 * Math.sin(2 * Math.PI * frequency * t) * Math.exp(-t / 0.009);
  }
  return samples;
}
