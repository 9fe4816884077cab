import type { SampleFile, SampleHash } from '../model';

/** Files whose levels are this near, in decibels, are alternates of each other. */
const NEAR = 2;

/** A sound file that is to be spread over velocities. */
export interface Spread {
  hash: SampleHash;
  name: string;
  /** Of its loudest moment, in decibels. */
  level: number;
}

/**
 * Several recordings of one stroke: those of about the same level take turns, and the groups of them share
 * the velocities evenly, the softest at the softest. Where all are alike, all take turns.
 */
export function spreadFiles(files: readonly Spread[]): SampleFile[] {
  const byLevel = [...files].sort((a, b) => a.level - b.level);
  const groups: Spread[][] = [];
  for (const file of byLevel) {
    const group = groups.at(-1);
    if (group && file.level - group[0].level < NEAR) group.push(file);
    else groups.push([file]);
  }
  const edge = (n: number) => Math.round((127 * n) / groups.length);
  return groups.flatMap((group, n) =>
    group
      .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
      .map(({ hash, name }) => ({ hash, name, velocities: [edge(n) + 1, edge(n + 1)] as const })),
  );
}

/** The level of the loudest 10 ms, in decibels. */
export function levelOfFile(samples: Float32Array, rate: number): number {
  const step = Math.max(1, Math.round(rate / 100));
  let most = 1e-12;
  for (let from = 0; from < samples.length; from += step) {
    let sum = 0;
    const to = Math.min(samples.length, from + step);
    for (let i = from; i < to; i++) sum += samples[i] * samples[i];
    most = Math.max(most, sum / step);
  }
  return 10 * Math.log10(most);
}

/** The outline of samples for a picture: the highest and the lowest of each of so many stretches in turn. */
export function outlineOf(samples: Float32Array, stretches: number): Float32Array {
  const out = new Float32Array(stretches * 2);
  for (let n = 0; n < stretches; n++) {
    const from = Math.floor((n * samples.length) / stretches);
    const to = Math.floor(((n + 1) * samples.length) / stretches);
    for (let i = from; i < to; i++) {
      if (samples[i] > out[2 * n]) out[2 * n] = samples[i];
      if (samples[i] < out[2 * n + 1]) out[2 * n + 1] = samples[i];
    }
  }
  return out;
}
