import {
  compileDesk,
  compileLoop,
  compileScore,
  countInAt,
  laneOfPiece,
  notesIn,
  TRACK_SIZE,
  type DeskTable,
  type MasterReading,
} from '../core/engine';
import {
  articulationOf,
  DEFAULT_KIT,
  designOf,
  findPiece,
  LAST_SOUND,
  MOST_OUTPUTS,
  soundOf,
  USUAL_PIECES,
  type Kit,
  type PieceId,
  type Song,
  type SampleHash,
  type SoundDesign,
  type SoundId,
} from '../core/model';
import { oneZone, type KitSound, type Pcm } from '../core/sound';
import { roomRing } from '../core/tracks';
import { TempoMap, type Hertz, type Seconds, type Ticks, type Velocity } from '../core/time';
import { tempoOfSong } from '../core/weave';
import { Dropouts } from './dropouts';
import { HeardClock } from './heardClock';
import { PROCESSOR, type FromEngine, type ToEngine } from './messages';

/** The rate everything is played and rendered at, so that both are the same samples. */
export const SAMPLE_RATE: Hertz = 48_000;

/** How long the browser may take to let sound through before it counts as held back. */
const PATIENCE_MS = 1500;

/** What a track was like a moment ago. */
export interface TrackReading {
  /** Its loudest sample, 0 to 1 and above. */
  peak: number;
  /** What its dynamics held back, in decibels. */
  reduction: number;
  /** Short-term loudness in LUFS; -Infinity for silence. */
  loudness: number;
}

/** What is heard beside the kit cuts itself off. */
const BESIDE = 255;

/** Whether sound can be heard, and if not, why. */
export type AudioState = 'off' | 'starting' | 'running' | 'blocked' | 'unsupported';

/** Where the music is, by the clock of the page. */
export interface MusicNow {
  playing: boolean;
  tick: Ticks;
  /** When that is heard, in milliseconds as `performance.now()` counts them. */
  at: number;
  loop: { from: Ticks; to: Ticks } | undefined;
  song: Song | undefined;
}

export interface PlayerEvents {
  onAudio(state: AudioState): void;
  onPlaying(playing: boolean): void;
  /** Told how many pairs of outputs the device has. */
  onOutputs(pairs: number): void;
  /** Called at each dropout, with how many there were since the page was opened. */
  onDropout?(count: number): void;
  /** Told where the music is, some fifty times a second while anything sounds. */
  onMusic?(now: MusicNow): void;
  /** Makes a sound of a kit somewhere off the page's thread. */
  makeSound(design: SoundDesign, sampleRate: Hertz): Promise<KitSound>;
  /** Told which of the sounds that were asked for are needed before the others. */
  hurry(notes: readonly SoundId[]): void;
  /** A sound could not be made: it is silent until it is asked for again. */
  onFailed?(note: SoundId): void;
}

/** Before anything was heard. */
const SILENT: FromEngine = {
  tick: 0,
  playing: false,
  ended: false,
  time: 0,
  peaks: [0, 0],
  tracks: new Float32Array(0),
  master: { reduction: 0, limited: 0, shortTerm: -Infinity, integrated: -Infinity, peak: 0 },
};

/** The page's handle on the engine in the audio thread. */
export class Player {
  private context: AudioContext | undefined;
  private node: AudioWorkletNode | undefined;
  private opening: Promise<boolean> | undefined;
  /** A play that waits for its sounds; another one, or stop, takes its place. */
  private starting: object | undefined;
  private heard: Song | undefined;
  /** The sounds that what is heard needs. */
  private notes: readonly SoundId[] = [];
  private score: { ticks: Float64Array; notes: Uint16Array; tempo: TempoMap } | undefined;
  private loop: { from: Ticks; to: Ticks } | undefined;
  private desk: DeskTable | undefined;
  private click = false;
  /** The kit whose sounds the engine has, or is given. */
  private kit: Kit = DEFAULT_KIT;
  private ring: Seconds = 0;
  /** The sounds that were asked for, and by which design. */
  private readonly sounds = new Map<SoundId, { key: string; sound: Promise<KitSound> }>();
  private readonly sent = new Set<SoundId>();
  private last: FromEngine = SILENT;
  private lastAt = 0;
  private readonly clock = new HeardClock(() => this.context);
  private readonly dropouts = new Dropouts();
  /** Where the transport stands while nothing plays. */
  private resting: Ticks = 0;

  constructor(private readonly events: PlayerEvents) {}

  /** Starts computing what nearly every song begins with, while no song is open yet. */
  warmUp(): void {
    this.prepare(FIRST_PIECES);
  }

  /** Starts computing what a song strikes, in the order in which it strikes it. */
  prepareSong(song: Song): void {
    this.takeKit(song);
    for (const note of notesIn(compileScore(song))) void this.soundOf(note);
  }

  /** Starts computing the kit, so that it is there when play is pressed. */
  prepare(pieces: readonly PieceId[] = USUAL_PIECES): void {
    for (const piece of pieces) {
      for (const sound of soundsOfPiece(piece, this.kit)) void this.soundOf(sound);
    }
  }

  /**
   * Opens sound, and brings the sounds of pieces to the engine: what is played next is heard at once. Called
   * after something was pressed, because browsers hold sound back before.
   */
  async getReady(pieces: readonly PieceId[]): Promise<void> {
    this.prepare(pieces);
    if (!(await this.open())) return;
    await this.sendSounds(pieces.flatMap((piece) => soundsOfPiece(piece, this.kit)));
  }

  /**
   * Hears another song or pattern, or the same after an edit, with the stretch of it that goes round.
   * What plays goes on at its musical place.
   * @param at while it plays, from this tick of the song on; absent is at once
   */
  hear(song: Song, loop: { from: Ticks; to: Ticks } | undefined, at?: Ticks): void {
    const sameLoop = loop?.from === this.loop?.from && loop?.to === this.loop?.to;
    if (song === this.heard && sameLoop) return;
    this.heard = song;
    this.loop = loop;
    this.takeKit(song);
    this.sendScore(at);
  }

  /** What another kit, or another design of a piece, makes otherwise is made anew; what rings rings on. */
  private takeKit(song: Song): void {
    const { kit } = song;
    const ring = roomRing(song);
    if (kit === this.kit && ring === this.ring) return;
    this.kit = kit;
    this.ring = ring;
    for (const [sound, { key }] of [...this.sounds]) {
      if (keyOf(designOf(kit, sound, ring)) === key) continue;
      this.sounds.delete(sound);
      this.sent.delete(sound);
    }
  }

  /** Makes every sound that plays one of these files anew: they can be read now. */
  reload(files: readonly SampleHash[]): void {
    for (const [sound, { key }] of [...this.sounds]) {
      if (!files.some((hash) => key.includes(hash))) continue;
      this.sounds.delete(sound);
      this.sent.delete(sound);
    }
    void this.sendSounds(this.notes);
  }

  setClick(on: boolean): void {
    this.click = on;
    this.post({ type: 'click', on });
  }

  /**
   * Plays what is heard from a tick on. When sound runs and every sound needed is with the engine, it is
   * told within the call: nothing that the page does next keeps it waiting.
   * @returns false when the browser holds sound back; what was told to stop before its sounds were there does
   *   not play, and gives true
   */
  play(from: Ticks, countIn: boolean): Promise<boolean> {
    const song = this.heard;
    if (!song) return Promise.resolve(false);
    this.starting = undefined;
    if (
      this.context?.state === 'running' &&
      this.node &&
      this.soon(from).every((n) => this.sent.has(n))
    ) {
      this.start(song, from, countIn);
      return Promise.resolve(true);
    }
    return this.wakeAndPlay(song, from, countIn);
  }

  private async wakeAndPlay(song: Song, from: Ticks, countIn: boolean): Promise<boolean> {
    const start = {};
    this.starting = start;
    if (!(await this.open())) {
      if (this.starting === start) this.starting = undefined;
      return false;
    }
    // What is struck later is computed while it plays.
    const soon = this.soon(from);
    const later = this.notes.filter((note) => !soon.includes(note));
    const first = this.sendSounds(soon);
    void this.sendSounds([...soon, ...later]);
    await first;
    if (this.starting !== start) return true;
    this.starting = undefined;
    this.start(this.heard ?? song, from, countIn);
    return true;
  }

  /** Whether play was pressed and its sounds are still being computed. */
  get isStarting(): boolean {
    return this.starting !== undefined;
  }

  /** What is struck within the first seconds from a tick on, and round the loop. */
  private soon(from: Ticks): readonly SoundId[] {
    const { score } = this;
    if (!score) return this.notes;
    const until = score.tempo.tickAt(score.tempo.secondsAt(from) + SOON);
    const { loop } = this;
    const notes = new Set<SoundId>();
    score.ticks.forEach((tick, i) => {
      const again = loop && until > loop.to && tick >= loop.from && tick < loop.to;
      if ((tick >= from - 1 && tick < until) || again) notes.add(score.notes[i]);
    });
    return [...notes];
  }

  private start(song: Song, from: Ticks, countIn: boolean): void {
    this.post({ type: 'play', from, ...(countIn && { countIn: countInAt(song, from) }) });
    this.resting = from;
  }

  stop(): void {
    this.starting = undefined;
    this.resting = this.tick;
    this.post({ type: 'stop' });
  }

  locate(to: Ticks): void {
    this.resting = to;
    if (!this.heard) return;
    this.post({ type: 'locate', to });
    if (!this.last.playing) return;
    this.last = { ...this.last, tick: to };
    this.lastAt = performance.now();
  }

  /** Sounds samples now as they are, beside the kit. */
  async hearSamples(song: Song, { left, right }: Pcm): Promise<void> {
    if (!(await this.open())) return;
    const layer = { left, ...(right && { right }), rate: SAMPLE_RATE, curve: 'body' as const };
    this.post({ type: 'sound', sound: oneZone(LAST_SOUND, [[layer]]) });
    const lane = compileDesk(song).lanes.length - 1;
    this.post({
      type: 'strike',
      strike: { note: LAST_SOUND, velocity: 127, lane, choke: BESIDE },
    });
  }

  /** Sounds one stroke now, as a piece of the song's kit. */
  async strike(
    song: Song,
    piece: PieceId,
    articulation: string,
    velocity: Velocity,
  ): Promise<void> {
    if (!(await this.open())) return;
    const way = articulationOf(piece, articulation, song.kit);
    const note = soundOf(piece, way.id, song.kit);
    await this.sendSounds([note]);
    const lane = laneOfPiece(song, piece, way.id);
    this.post({ type: 'strike', strike: { note, velocity, lane, choke: way.choke ?? 0 } });
  }

  get playing(): boolean {
    return this.last.playing;
  }

  /** Where the music is that is heard just now. */
  get tick(): Ticks {
    if (!this.last.playing || !this.heard) return this.resting;
    const { tick } = this.last;
    const since = (performance.now() - this.lastAt) / 1000 - (this.context?.outputLatency ?? 0);
    const tempo = tempoOfSong(this.heard);
    const now = tempo.tickAt(tempo.secondsAt(tick) + Math.max(0, Math.min(0.25, since)));
    const { loop } = this;
    return loop && tick < loop.to && now >= loop.to ? now - (loop.to - loop.from) : now;
  }

  /** Loudest sample of the last report, 0 to 1. */
  get peak(): number {
    if (performance.now() - this.lastAt > 200) return 0;
    return Math.max(...this.last.peaks);
  }

  /** What a track of the desk was like in the last report; undefined while nothing sounds. */
  readingOf(track: number): TrackReading | undefined {
    if (performance.now() - this.lastAt > 200) return undefined;
    const row = track * TRACK_SIZE;
    const [peak = 0, reduction = 0, loudness = -Infinity] = this.last.tracks.subarray(
      row,
      row + TRACK_SIZE,
    );
    return { peak, reduction, loudness };
  }

  /** What all drums were like in the last report: loudness stays until play is pressed again. */
  get master(): MasterReading {
    return this.last.master;
  }

  private async open(): Promise<boolean> {
    this.opening ??= this.build();
    if (!(await this.opening) || !this.context) {
      this.opening = undefined;
      return false;
    }
    if (this.context.state !== 'running') {
      const woken = this.context.resume().then(() => true);
      const late = new Promise<false>((done) => setTimeout(() => done(false), PATIENCE_MS));
      if (!(await Promise.race([woken, late]))) {
        this.events.onAudio('blocked');
        return false;
      }
    }
    this.events.onAudio('running');
    return true;
  }

  private async build(): Promise<boolean> {
    this.events.onAudio('starting');
    try {
      this.context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
      await this.context.audioWorklet.addModule('/worklet/engine.js');
      this.node = new AudioWorkletNode(this.context, PROCESSOR, {
        numberOfInputs: 0,
        outputChannelCount: [this.openOutputs(this.context.destination)],
      });
    } catch {
      this.events.onAudio('unsupported');
      return false;
    }
    this.node.port.onmessage = (event: MessageEvent<FromEngine>) => this.take(event.data);
    this.node.connect(this.context.destination);
    this.sent.clear();
    this.desk = undefined;
    this.sendScore();
    this.setClick(this.click);
    return true;
  }

  /** Lets all outputs of the device sound. @returns how many there are, in pairs */
  private openOutputs(destination: AudioDestinationNode): number {
    const pairs = Math.max(1, Math.min(MOST_OUTPUTS, Math.floor(destination.maxChannelCount / 2)));
    if (destination.maxChannelCount >= 2 * pairs) destination.channelCount = 2 * pairs;
    // Pairs of outputs are what they are, and no loudspeakers around a listener.
    destination.channelInterpretation = pairs > 1 ? 'discrete' : 'speakers';
    this.events.onOutputs(pairs);
    return 2 * pairs;
  }

  private take(report: FromEngine): void {
    const before = this.last.playing;
    this.last = report;
    this.lastAt = performance.now();
    if (before && report.ended) this.resting = this.loop?.from ?? 0;
    if (before !== report.playing) this.events.onPlaying(report.playing);
    this.watch(report.playing);
    const { playing, tick, time } = report;
    const { loop, heard: song } = this;
    this.events.onMusic?.({ playing, tick, at: this.clock.heardAt(time), loop, song });
  }

  /** Counts a dropout where the device did not keep up since the last report. */
  private watch(playing: boolean): void {
    const { contextTime, performanceTime } = this.context?.getOutputTimestamp?.() ?? {};
    if (!playing || contextTime === undefined || !performanceTime) return this.dropouts.rest();
    if (this.dropouts.read(contextTime, performanceTime)) {
      this.events.onDropout?.(this.dropouts.count);
    }
  }

  private sendScore(at?: Ticks): void {
    if (!this.heard || !this.node) return;
    const desk = compileDesk(this.heard);
    if (desk !== this.desk) this.post({ type: 'desk', desk });
    this.desk = desk;
    const score = compileScore(this.heard);
    this.notes = notesIn(score);
    // The arrays of the score are handed over: what is asked of them later is kept apart.
    this.score = {
      ticks: score.ticks.slice(),
      notes: score.notes.slice(),
      tempo: new TempoMap(score.tempo.slice()),
    };
    void this.sendSounds(this.notes);
    const loop = this.loop && compileLoop(score, this.loop.from, this.loop.to);
    const arrays = [...Object.values(score), ...Object.values(loop ?? {})].filter((part) =>
      ArrayBuffer.isView(part),
    );
    this.post(
      { type: 'score', score, ...(loop && { loop }), ...(at !== undefined && { at }) },
      arrays.map((array) => array.buffer as ArrayBuffer),
    );
  }

  private async sendSounds(notes: readonly SoundId[]): Promise<void> {
    const all = notes.map(async (note) => {
      const asked = this.soundOf(note);
      const sound = await asked.catch(() => undefined);
      if (!sound) return;
      // Meanwhile another design may have been chosen.
      if (this.sent.has(note) || !this.node || this.sounds.get(note)?.sound !== asked) return;
      this.sent.add(note);
      this.post({ type: 'sound', sound });
    });
    this.events.hurry(notes.filter((note) => !this.sent.has(note)));
    await Promise.all(all);
  }

  private soundOf(note: SoundId): Promise<KitSound> {
    const known = this.sounds.get(note);
    if (known) return known.sound;
    const design = designOf(this.kit, note, this.ring);
    const sound = this.events.makeSound(design, SAMPLE_RATE);
    this.sounds.set(note, { key: keyOf(design), sound });
    sound.catch(() => {
      // The next time it is needed it is tried again.
      if (this.sounds.get(note)?.sound === sound) this.sounds.delete(note);
      this.events.onFailed?.(note);
    });
    return sound;
  }

  private post(message: ToEngine, transfer: Transferable[] = []): void {
    this.node?.port.postMessage(message, transfer);
  }
}

/** Nearly every song begins with some of these; others would be in the way when a song is opened. */
const FIRST_PIECES: readonly PieceId[] = ['kick', 'hihat', 'snare', 'ride'];

/** A stroke that comes later than this can be computed while the song plays, in seconds. */
const SOON: Seconds = 2;

/** Two designs with the same key sound the same. */
const keyOf = (design: SoundDesign) => JSON.stringify(design);

function soundsOfPiece(piece: PieceId, kit: Kit): SoundId[] {
  const { articulations } = findPiece(piece, kit) ?? { articulations: [] };
  return articulations.map(({ id }) => soundOf(piece, id, kit));
}
