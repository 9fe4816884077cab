import { importsOf, sourceFiles, type Import } from '../scripts/imports';

/**
 * Who may import whom, held over the whole import graph, types included. The reasons are in
 * docs/decisions/0001-layers.md. Tests are left out: one may borrow another layer's data.
 */

/** One folder of src is one layer. What a layer may import besides itself stands behind it. */
const LAYERS: Readonly<Record<string, readonly string[]>> = {
  core: [],
  demo: ['core'],
  workers: ['core'],
  audio: ['core'],
  storage: ['core', 'demo', 'workers'],
  state: ['storage', 'audio', 'workers', 'demo', 'core'],
  look: ['core'],
  stages: ['state', 'look', 'core'],
  shell: ['look', 'state', 'core'],
  server: ['core'],
  offline: [],
  app: ['server', 'shell', 'stages', 'look', 'state', 'core'],
};

/** The folders of the core, foundations first: each may import those before it, and none behind it. */
const CORE = [
  ...[
    'time',
    'random',
    'memo',
    'names',
    'words',
    'model',
    'pattern',
    'weave',
    'tab',
    'midi',
    'notation',
    'musicxml',
  ],
  ...[
    'library',
    'guide',
    'playing',
    'vary',
    'draft',
    'tracks',
    'heard',
    'sound',
    'fonts',
    'soundFiles',
    'loops',
    'engine',
  ],
  ...['wishes', 'deliver', 'bounce', 'commands', 'testing'],
];

/** The core has no interface and no storage. */
const NOT_IN_CORE = /^(react|next|@mui|dexie|zustand|comlink)([-/]|$)/;

const files = sourceFiles();
const imports = importsOf(files);
const ours = imports.filter((one) => one.ours);

const layerOf = (file: string) => {
  const [, folder] = file.split('/');
  return folder in LAYERS ? folder : undefined;
};
const folderIn = (layer: string, file: string) =>
  file.startsWith(`src/${layer}/`) && file.split('/').length > 3 ? file.split('/')[2] : undefined;

const written = (found: readonly Import[]) => found.map(({ from, to }) => `${from} -> ${to}`);

test('the graph holds the whole application', () => {
  expect(files.length).toBeGreaterThan(500);
  expect(ours.length).toBeGreaterThan(files.length);
  const missing = imports.filter(
    (one) => !one.ours && /^(@\/|\.)/.test(one.to) && !/\.(css|json)$/.test(one.to),
  );
  expect(written(missing)).toEqual([]);
});

test('a layer imports those it may, and stages do not see each other', () => {
  const wrong = ours.filter(({ from, to }) => {
    const [mine, theirs] = [layerOf(from), layerOf(to)];
    if (!mine || !theirs) return false;
    if (mine === 'stages' && theirs === 'stages') {
      return folderIn('stages', from) !== folderIn('stages', to);
    }
    return mine !== theirs && !LAYERS[mine].includes(theirs);
  });
  expect(written(wrong)).toEqual([]);
});

test('every file of a layer is in one', () => {
  const outside = files.filter((file) => file.split('/').length > 2 && !layerOf(file));
  expect(outside).toEqual([]);
});

test('a folder of the core imports those before it', () => {
  const place = (file: string) => CORE.indexOf(folderIn('core', file)!);
  const within = ours.filter(({ from, to }) => folderIn('core', from) && folderIn('core', to));
  expect(within.filter(({ from }) => place(from) < 0)).toEqual([]);
  expect(written(within.filter(({ from, to }) => place(to) > place(from)))).toEqual([]);
});

test('the core has neither interface nor storage', () => {
  const wrong = imports.filter(({ from, to }) => layerOf(from) === 'core' && NOT_IN_CORE.test(to));
  expect(written(wrong)).toEqual([]);
});

test('a folder of the core is imported by its face; testing is for tests', () => {
  const wrong = ours.filter(({ from, to }) => {
    const folder = folderIn('core', to);
    return folder && folder !== folderIn('core', from) && to !== `src/core/${folder}/index.ts`;
  });
  expect(written(wrong)).toEqual([]);
});

/** Groups of files that import each other in a circle. Source: Tarjan, SIAM J. Comput. 1, 1972. */
function circles(edges: ReadonlyMap<string, readonly string[]>): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: string[][] = [];
  const visit = (file: string): void => {
    index.set(file, index.size);
    low.set(file, index.get(file)!);
    stack.push(file);
    for (const next of edges.get(file) ?? []) {
      if (!index.has(next)) visit(next);
      if (stack.includes(next)) low.set(file, Math.min(low.get(file)!, low.get(next)!));
    }
    if (low.get(file) !== index.get(file)) return;
    const group = stack.splice(stack.indexOf(file));
    if (group.length > 1 || (edges.get(file) ?? []).includes(file)) found.push(group);
  };
  for (const file of edges.keys()) if (!index.has(file)) visit(file);
  return found;
}

test('no files import each other in a circle', () => {
  const edges = new Map<string, string[]>(files.map((file) => [file, []]));
  for (const { from, to } of ours) edges.get(from)!.push(to);
  expect(circles(edges)).toEqual([]);
});

test('a circle is found where there is one', () => {
  const edges = new Map(Object.entries({ a: ['b'], b: ['c'], c: ['b', 'd'], d: [] }));
  expect(circles(edges).map((group) => group.sort())).toEqual([['b', 'c']]);
});
