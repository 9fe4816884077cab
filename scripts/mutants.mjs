/**
 * npm run mutants -- FOLDER [FOLDER ...] [--count N] [--seed N]: proves the tests. One operator, bound or
 * constant at a time is changed in the files of the folders, and the unit tests that import the file are run:
 * a mutant that no test notices survives, and is printed. The files are put back afterwards.
 */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { ensureModules } from './lib.mjs';

ensureModules();
const args = process.argv.slice(2);
const taken = (flag, usual) => {
  const at = args.indexOf(flag);
  return at < 0 ? usual : Number(args.splice(at, 2)[1]);
};
const count = taken('--count', 200);
const seed = taken('--seed', 1);
const folders = args;
if (folders.length === 0 || !(count >= 1)) {
  console.error('npm run mutants -- FOLDER [FOLDER ...] [--count N] [--seed N]');
  process.exit(2);
}

/** Each operator, and the one that takes its place. */
const SWAPS = {
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
};

/** Every mutant of a file: what stands where, and what stands there instead. */
function mutantsOf(file) {
  const text = readFileSync(file, 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const add = (node, instead) => found.push({ file, from: node.getStart(), to: node.end, instead });
  const visit = (node) => {
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const swap = SWAPS[node.operatorToken.getText()];
      if (swap) add(node.operatorToken, swap);
    } else if (ts.isNumericLiteral(node))
      add(node, String(Number(node.text.replaceAll('_', '')) + 1));
    else if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, 'true');
    else if (ts.isPrefixUnaryExpression(node) && node.getText().startsWith('!')) {
      add(node, node.operand.getText());
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** A generator of numbers from 0 to 1. Source: mulberry32, Tommy Ettinger, public domain. */
function drawing(state) {
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const files = folders.flatMap((folder) =>
  readdirSync(folder, { recursive: true })
    .filter(
      (file) => file.endsWith('.ts') && !file.endsWith('.test.ts') && !file.endsWith('index.ts'),
    )
    .map((file) => path.join(folder, file)),
);
const all = files.flatMap(mutantsOf);
const draw = drawing(seed);
const drawn = [];
while (drawn.length < count && all.length > 0) {
  drawn.push(...all.splice(Math.floor(draw() * all.length), 1));
}

/** Whether one of these tests of the core fails, or never ends. */
function fails(tests) {
  const jest = ['--config', 'jest.unit.config.js', '--bail', '--silent', '--passWithNoTests'];
  const run = spawnSync('node_modules/.bin/jest', [...jest, ...tests], {
    timeout: 300_000,
    stdio: 'ignore',
  });
  return run.status !== 0;
}

/** Whether some test fails while the mutant is in place; one that never ends is noticed too. */
function isKilled({ file, from, to, instead }) {
  const text = readFileSync(file, 'utf8');
  const putBack = () => writeFileSync(file, text);
  const stop = () => {
    putBack();
    process.exit(1);
  };
  process.once('SIGINT', stop);
  process.once('SIGTERM', stop);
  try {
    writeFileSync(file, text.slice(0, from) + instead + text.slice(to));
    // Most are noticed where they are: the tests of the folder come first, and the others after them.
    const own = `${path.dirname(file)}/`;
    if (fails(['--testPathPatterns', own])) return true;
    const others = ['--testPathPatterns', 'src/core', '--testPathIgnorePatterns', own];
    return fails([...others, '--findRelatedTests', file]);
  } finally {
    putBack();
    process.off('SIGINT', stop);
    process.off('SIGTERM', stop);
  }
}

let killed = 0;
for (const [i, mutant] of drawn.entries()) {
  const { file, from, to, instead } = mutant;
  const text = readFileSync(file, 'utf8');
  const line = text.slice(0, from).split('\n').length;
  const noticed = isKilled(mutant);
  if (noticed) killed++;
  else console.log(`survives: ${file}:${line}  ${text.slice(from, to)} -> ${instead}`);
  if ((i + 1) % 10 === 0) console.log(`${killed} of ${i + 1} killed`);
}
console.log(
  `${killed} of ${drawn.length} mutants killed (${Math.round((100 * killed) / drawn.length)} %)`,
);
