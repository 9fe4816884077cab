/** A level this soft or softer is off, in decibels. */
export const OFF = -48;
/** The highest level a track can be set to, in decibels: a little over twice. */
export const LOUDEST = 6;

/** A factor as decibels; what is off is `OFF`. */
export function decibelsOf(level: number): number {
  return level <= 0 ? OFF : Math.max(OFF, 20 * Math.log10(level));
}

/** Decibels as a factor; at `OFF` it is 0. */
export function levelOf(decibels: number): number {
  return decibels <= OFF ? 0 : 10 ** (decibels / 20);
}

/** "-6 dB", "0 dB", "off". */
export function saidLevel(level: number): string {
  if (level <= levelOf(OFF + 0.001)) return 'off';
  const db = Math.round(decibelsOf(level) * 10) / 10;
  return `${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`;
}

/** "middle", "30 left". */
export function saidPan(pan: number): string {
  const share = Math.round(Math.abs(pan) * 100);
  if (share === 0) return 'middle';
  return `${share} ${pan < 0 ? 'left' : 'right'}`;
}
