/** What the everyday scripts share. Nothing here needs an installed package. */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';

/** Runs a command and shows what it prints. @returns whether it went well */
export function run(command, args, env = {}) {
  const options = { stdio: 'inherit', env: { ...process.env, ...env } };
  return spawnSync(command, args, options).status === 0;
}

/** Runs a command; ends this script when it fails. */
export function mustRun(command, args, env = {}) {
  if (!run(command, args, env)) process.exit(1);
}

const MARK = 'node_modules/.installed-lock';
const NOT_FOR_CHECKS = 'without those of the checks\n';

/**
 * Installs the packages of the lock file, unless just these are installed already.
 * @param checks whether those are wanted that only checks need: four in five of them
 */
export function ensureModules({ checks = true } = {}) {
  const lock = readFileSync('package-lock.json', 'utf8');
  const installed = existsSync(MARK) ? readFileSync(MARK, 'utf8') : '';
  if (installed === lock || (!checks && installed === NOT_FOR_CHECKS + lock)) return;
  console.log('installing packages ...');
  // Not `npm ci`: where a registry does not carry the binaries of other platforms, it refuses a lock
  // file that leaves them out. This installs the same locked versions and leaves the file alone. No
  // package is built here: those that bring a program bring it built.
  mustRun('npm', [
    ...['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error', '--ignore-scripts'],
    ...(checks ? [] : ['--omit=dev']),
  ]);
  writeFileSync(MARK, checks ? lock : NOT_FOR_CHECKS + lock);
}

export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium-headless-shell';

/** Installs Debian's headless Chromium where that is allowed; says what to install where it is not. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  const root = process.getuid?.() === 0;
  const apt = spawnSync('apt-get', ['--version']).status === 0;
  if (root && apt) {
    console.log('installing Chromium ...');
    run('apt-get', ['update', '-qq']);
    run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium-headless-shell'], {
      DEBIAN_FRONTEND: 'noninteractive',
    });
  }
  if (!existsSync(CHROMIUM)) {
    console.error(
      `The end-to-end tests need Chromium at ${CHROMIUM}: install Debian's package "chromium-headless-shell", or set CHROMIUM to where it is.`,
    );
    process.exit(1);
  }
}

export function build() {
  mustRun('npm', ['run', '--silent', 'build'], { NEXT_TELEMETRY_DISABLED: '1' });
}

export function freePort() {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Starts the production server and waits until it answers. */
export async function startServer(port, stdio = 'ignore') {
  const server = spawn('node', ['scripts/serve.mjs'], {
    stdio,
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', PORT: String(port) },
  });
  const { HOST = '' } = process.env;
  // A server that listens on every interface is asked on this machine.
  const url = `http://${['', '0.0.0.0', '::'].includes(HOST) ? 'localhost' : HOST}:${port}`;
  for (let tries = 0; tries < 240; tries++) {
    if (server.exitCode !== null) break;
    const up = await fetch(url).then(
      (answer) => answer.ok,
      () => false,
    );
    if (up) {
      // Another server on this port would have answered too; ours has given up by now then.
      await new Promise((later) => setTimeout(later, 500));
      if (server.exitCode === null) return { url, stop: () => server.kill(), server };
    }
    await new Promise((later) => setTimeout(later, 250));
  }
  server.kill();
  throw new Error(
    `The server did not answer on port ${port}. Is the port taken? Set PORT to another.`,
  );
}

/** Bundles a TypeScript file for Node and runs it with what it exports as `main`. */
export async function runTypeScript(entry, ...args) {
  const { build: bundle } = await import('esbuild');
  const outfile = `.tmp/${entry.replaceAll('/', '-').replace(/\.ts$/, '')}.mjs`;
  await bundle({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    // Node finds no names in this one, which is not an ES module: it is bundled.
    alias: { '@': './src', wavefile: './node_modules/wavefile/dist/wavefile.js' },
    logLevel: 'warning',
  });
  const { main } = await import(new URL(`../${outfile}`, import.meta.url));
  return main(...args);
}
