/**
 * Properties draw the same values on every run of one commit, so that a failure is that commit's own.
 * SEED=random draws others, SEED=<number> those of a failure that was printed.
 */
import fc from 'fast-check';

const asked = process.env.SEED ?? '20260';
fc.configureGlobal({ seed: asked === 'random' ? Date.now() : Number(asked) });
