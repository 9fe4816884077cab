import { MAX_BPM, MIN_BPM, type Hertz, type Samples } from '../time';

/** How long a loop is in music. */
export interface LoopLength {
  /** Of 4/4. */
  bars: number;
  /** The tempo at which the bars last as long as the loop. */
  bpm: number;
}

const BARS = [1, 2, 4, 8, 16] as const;
/** What loops are usually played at. */
const USUAL = 110;

/** The tempo at which a loop of so many samples is so many bars of 4/4; within what tempos reach. */
export function tempoOfLoop(length: Samples, rate: Hertz, bars: number): number {
  return Math.max(MIN_BPM, Math.min(MAX_BPM, (bars * 240 * rate) / length));
}

/**
 * How many bars a loop is: where its strokes lie best on sixteenths, and the tempo is a usual one.
 * @param onsets where strokes begin
 */
export function guessLength(onsets: readonly Samples[], length: Samples, rate: Hertz): LoopLength {
  const guesses = BARS.map((bars) => {
    const bpm = (bars * 240 * rate) / length;
    const sixteenth = length / (bars * 16);
    const off = onsets.map((at) => Math.abs(at / sixteenth - Math.round(at / sixteenth)));
    const mean = off.length > 0 ? off.reduce((a, b) => a + b, 0) / off.length : 0;
    return { bars, bpm, cost: mean * 4 + Math.abs(Math.log2(bpm / USUAL)) };
  });
  guesses.sort((a, b) => a.cost - b.cost);
  const { bars } = guesses[0];
  return { bars, bpm: tempoOfLoop(length, rate, bars) };
}
