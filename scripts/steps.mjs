/** Steps of a check that run side by side, each with its seconds, its count and its slowest tests. */
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** Where the seconds of the last whole run are kept; `npm run bench` reads them. */
export const TIMES = '.tmp/checks.json';

/** Runs a command. @returns its exit code and all that it printed */
function capture(command, args, env) {
  return new Promise((done) => {
    const child = spawn(command, args, { env: { ...process.env, ...env } });
    const parts = [];
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (part) => parts.push(part));
    child.on('error', (error) => parts.push(Buffer.from(String(error))));
    child.on('close', (code) => done({ code, output: Buffer.concat(parts).toString() }));
  });
}

/** What has been checked so far. */
export class Checks {
  passed = 0;
  failed = 0;
  /** Seconds of each step, in the order in which they ended. */
  seconds = {};
  tests = [];

  /** A step that passes or fails as a whole. @returns whether it passed */
  async step(name, command, args, env = {}) {
    const { ok } = await this.run(name, command, args, env);
    if (ok) this.passed++;
    else this.failed++;
    return ok;
  }

  /** A step of jest: every test counts, and a runner that died counts as one failure. */
  async jest(name, command, args, env = {}) {
    mkdirSync('.tmp', { recursive: true });
    const file = `.tmp/${name.replaceAll(' ', '-')}.json`;
    rmSync(file, { force: true });
    const all = [...args, '--json', `--outputFile=${file}`, '--forceExit', '--passWithNoTests'];
    const { ok } = await this.run(name, command, all, env, { quiet: false });
    let counted = 0;
    try {
      const result = JSON.parse(readFileSync(file, 'utf8'));
      this.passed += result.numPassedTests;
      counted = result.numFailedTests + result.numRuntimeErrorTestSuites;
      for (const suite of result.testResults) {
        for (const { fullName, duration } of suite.assertionResults) {
          const test = `${path.relative('.', suite.name)}: ${fullName}`;
          this.tests.push({ test, seconds: (duration ?? 0) / 1000 });
        }
      }
    } catch {
      counted = 0;
    }
    this.failed += ok ? counted : Math.max(1, counted);
    return ok;
  }

  async run(name, command, args, env, { quiet = true } = {}) {
    const began = Date.now();
    console.log(`${name} ...`);
    const { code, output } = await capture(command, args, {
      NEXT_TELEMETRY_DISABLED: '1',
      FORCE_COLOR: '0',
      ...env,
    });
    const ok = code === 0;
    this.seconds[name] = (Date.now() - began) / 1000;
    if (!ok || !quiet) console.log(`\n${output.trimEnd()}\n`);
    console.log(`${name}: ${ok ? 'passed' : 'FAILED'} in ${Math.round(this.seconds[name])} s`);
    return { ok };
  }

  /** Prints the slowest tests, the time of each step, and as the last line the sum. */
  report({ keep = false } = {}) {
    const slow = this.tests.sort((a, b) => b.seconds - a.seconds).slice(0, 10);
    if (slow.length > 0) console.log('\nslowest tests');
    for (const { test, seconds } of slow)
      console.log(`${seconds.toFixed(1).padStart(7)} s  ${test}`);
    console.log('\nsteps');
    for (const [name, seconds] of Object.entries(this.seconds)) {
      console.log(`${seconds.toFixed(1).padStart(7)} s  ${name}`);
    }
    if (keep) writeFileSync(TIMES, `${JSON.stringify(this.seconds, null, 1)}\n`);
    console.log(`\n${this.passed} passed, ${this.failed} failed`);
    return this.failed === 0;
  }
}

/** Runs tasks in their order, so many at once. */
export async function sideBySide(tasks, lanes) {
  const waiting = [...tasks];
  const lane = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) await next();
  };
  await Promise.all(Array.from({ length: lanes }, lane));
}
