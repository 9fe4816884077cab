/**
 * Properties draw the same values on every run of one commit, so that a failure is that commit's own:
 * few of them in the checks, many in `npm run explore`. SEED=random draws others, SEED=<number> those of
 * a failure that was printed; RUNS=<number> draws so many of each.
 */
import fc from 'fast-check';

const asked = process.env.SEED ?? '20260';
fc.configureGlobal({
  seed: asked === 'random' ? Date.now() : Number(asked),
  numRuns: Number(process.env.RUNS ?? 30),
});
