/** Hosts the engine in the audio thread. Bundled into public/worklet/ by scripts/bundle-worklet.mjs. */
import { Engine } from '../core/engine';
import { tell } from './tell';
import { PROCESSOR, type EngineStart, type FromEngine, type ToEngine } from './messages';

declare const sampleRate: number;
declare const currentTime: number;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;

/** Blocks between two reports to the page: about 20 ms at 48 kHz. */
const REPORT_EVERY = 8;

class EngineProcessor extends AudioWorkletProcessor {
  private readonly engine = new Engine(sampleRate);
  private readonly later: { block: number; message: ToEngine }[];
  private blocks = 0;
  private wasBusy = false;
  private wasPlaying = false;

  constructor(options: { processorOptions?: EngineStart }) {
    super();
    const { messages = [], later = [] } = options.processorOptions ?? {};
    for (const message of messages) tell(this.engine, message);
    this.later = later;
    this.port.onmessage = (event: MessageEvent<ToEngine>) => tell(this.engine, event.data);
  }

  process(_: Float32Array[][], outputs: Float32Array[][]): boolean {
    while (this.later.length > 0 && this.later[0].block <= this.blocks) {
      tell(this.engine, this.later.shift()!.message);
    }
    // What follows the transport learns where it starts before anything is struck.
    if (this.engine.isPlaying !== this.wasPlaying) this.report(0);
    this.wasPlaying = this.engine.isPlaying;
    const [left, right, ...pairs] = outputs[0];
    this.engine.process(left, right ?? left, left.length, undefined, pairs);
    if (++this.blocks % REPORT_EVERY === 0) this.report(left.length);
    return true;
  }

  /** @param played so many frames of the block at `currentTime` */
  private report(played: number): void {
    const { engine } = this;
    const busy = engine.isPlaying || engine.isSounding;
    // One more report after the last sound, so that the page sees silence too.
    if (!busy && !this.wasBusy) return;
    this.wasBusy = busy;
    const report: FromEngine = {
      tick: engine.tick,
      playing: engine.isPlaying,
      ended: engine.hasEnded,
      time: currentTime + (played + engine.delay) / sampleRate,
      peaks: engine.takePeaks(),
      tracks: engine.takeTracks(),
      master: engine.takeMaster(),
    };
    this.port.postMessage(report);
  }
}

registerProcessor(PROCESSOR, EngineProcessor);
