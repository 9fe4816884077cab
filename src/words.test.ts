import { readFileSync } from 'node:fs';
import ts from 'typescript';
import { sourceFiles } from '../scripts/imports';
import { ACTS } from './state/acts';
import { GIVEN_UP, givenUpIn, meaningOf, TERMS } from './core/words';

/**
 * The words of the interface, held over its whole source: labels, menus, messages and tooltips, in all stages and
 * dialogs, whether a test ever opens them or not.
 */

/** The attributes and properties of code that are read on the screen. */
const SHOWN = /^(label|title|name|words|text|says|aria-label|placeholder|helperText|description)$/;

/** The texts of a file that a user may read, with the line each is on. */
function textsOf(path: string, code: string): { where: string; text: string }[] {
  const kind = path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const file = ts.createSourceFile(path, code, ts.ScriptTarget.Latest, true, kind);
  const texts: { where: string; text: string }[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isLiteralTypeNode(node)) return;
    const text = textOf(node);
    if (text !== undefined && (text.includes(' ') || isShown(node))) {
      const { line } = file.getLineAndCharacterOfPosition(node.getStart(file));
      texts.push({ where: `${path}:${line + 1}`, text });
    }
    ts.forEachChild(node, look);
  };
  look(file);
  return texts;
}

function textOf(node: ts.Node): string | undefined {
  const text =
    ts.isStringLiteralLike(node) || ts.isJsxText(node)
      ? node.text
      : ts.isTemplateExpression(node)
        ? node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join('')
        : undefined;
  return text?.replace(/\s+/g, ' ').trim();
}

/** A text of one word may be a name of the code; on the screen it is what these say, or what stands in an element. */
function isShown(node: ts.Node): boolean {
  const { parent } = node;
  if (ts.isJsxText(node)) return true;
  if (ts.isJsxAttribute(parent)) return SHOWN.test(parent.name.getText());
  return ts.isPropertyAssignment(parent) && SHOWN.test(parent.name.getText());
}

/** Names of commands are labels of undo; those of tests, of errors of the code and of the engine are read by nobody. */
const files = sourceFiles().filter(
  (path) => /^src\/.*\.tsx?$/.test(path) && !/\.test\.|\/testing\/|^src\/core\/words\//.test(path),
);

/**
 * Words that people bring along, by which the palette finds an act, and names that stored data have: neither is
 * read on the screen.
 */
const UNREAD = /^src\/state\/acts\/|^src\/storage\/deliveries\.ts/;

test('nothing on the screen uses a word that was given up', () => {
  const texts = files.flatMap((path) => textsOf(path, readFileSync(path, 'utf8')));
  expect(texts.length).toBeGreaterThan(2000);
  const found = texts
    .filter(({ where }) => !UNREAD.test(where))
    .flatMap(({ where, text }) => {
      const given = givenUpIn(text);
      return given ? [`${where} ${given}`] : [];
    });
  expect(found).toEqual([]);
});

test('no act is called by a word that was given up', () => {
  const names = ACTS.map(({ name }) => name);
  expect(names.filter((name) => givenUpIn(name))).toEqual([]);
});

test('a word that was given up is found in an attribute, between tags, in a template and in a property', () => {
  const code = [
    '<A label="past the bus" />;',
    '<B>call it off</B>;',
    'const c = `${n} strokes off the step`;',
    "const d = { name: 'busyness' };",
    "const fine = { busyness: 'busyness' as const };",
  ].join('\n');
  const found = textsOf('a.tsx', code).filter(({ text }) => givenUpIn(text));
  expect(found.map(({ where }) => where)).toEqual(['a.tsx:1', 'a.tsx:2', 'a.tsx:3', 'a.tsx:4']);
});

test('what is said instead is not itself given up, and each word of ours has one meaning', () => {
  for (const [, instead] of GIVEN_UP) expect(givenUpIn(instead)).toBeUndefined();
  expect(new Set(TERMS.map(({ word }) => word)).size).toBe(TERMS.length);
  for (const { word, meaning } of TERMS) expect(meaningOf(word)).toBe(meaning);
  expect(() => meaningOf('weft')).toThrow('no word of Verse Loom');
});

test('the pages of the guide and the README say what the screen says', () => {
  const pages = ['ten-minutes', 'gather', 'shape', 'weave', 'balance', 'deliver'];
  for (const page of [...pages.map((name) => `docs/guide/${name}.md`), 'README.md']) {
    const paragraphs = readFileSync(page, 'utf8')
      .replace(/`[^`]*`/g, '')
      .split(/\n\n/);
    const found = paragraphs.flatMap((text) => givenUpIn(text.replace(/\s+/g, ' ')) ?? []);
    expect([page, found]).toEqual([page, []]);
  }
});
