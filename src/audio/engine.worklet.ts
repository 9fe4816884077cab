/** Hosts the engine in the audio thread. Bundled into public/worklet/ by scripts/bundle-worklet.mjs. */
import { Engine } from '../core/engine';
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
  private blocks = 0;
  private wasBusy = false;

  constructor(options: { processorOptions?: EngineStart }) {
    super();
    for (const message of options.processorOptions?.messages ?? []) this.take(message);
    this.port.onmessage = (event: MessageEvent<ToEngine>) => this.take(event.data);
  }

  process(_: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0];
    this.engine.process(left, right ?? left, left.length);
    if (++this.blocks >= REPORT_EVERY) this.report();
    return true;
  }

  private take(message: ToEngine): void {
    const { engine } = this;
    switch (message.type) {
      case 'sound':
        return engine.load(message.sound);
      case 'score':
        return engine.setScore(message.score, message.at);
      case 'loop':
        return engine.setLoop(message.loop);
      case 'click':
        return engine.setClick(message.on);
      case 'play':
        return engine.play(message);
      case 'stop':
        return engine.stop();
      case 'locate':
        return engine.locate(message.to);
      case 'strike':
        return engine.strike(message.note, message.velocity, message.strip);
    }
  }

  private report(): void {
    this.blocks = 0;
    const { engine } = this;
    const busy = engine.isPlaying || engine.isSounding;
    // One more report after the last sound, so that the page sees silence too.
    if (!busy && !this.wasBusy) return;
    this.wasBusy = busy;
    const report: FromEngine = {
      position: engine.positionSeconds,
      playing: engine.isPlaying,
      time: currentTime,
      peaks: engine.takePeaks(),
    };
    this.port.postMessage(report);
  }
}

registerProcessor(PROCESSOR, EngineProcessor);
