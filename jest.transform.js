/**
 * TypeScript through swc, with the language's own globals as local names of each module.
 *
 * Jest runs modules in a context of their own, where every look-up of a global (`Math`, `Float32Array`)
 * goes through an interceptor: loops over samples ran four times slower than in a page. Names that tests or
 * packages may replace (timers, `Date`, `fetch`, `Promise`) stay global, and packages are left as they are.
 */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import swc from '@swc/jest';

const GLOBALS = [
  ...['Math', 'Array', 'Object', 'Number', 'String', 'Boolean', 'Symbol', 'BigInt', 'JSON'],
  ...['Map', 'Set', 'WeakMap', 'WeakSet', 'Error', 'RegExp', 'DataView'],
  ...['ArrayBuffer', 'Int8Array', 'Uint8Array', 'Int16Array', 'Uint16Array', 'Int32Array'],
  ...['Uint32Array', 'Float32Array', 'Float64Array'],
];
const STRICT = '"use strict";';
/** Part of the key of what is cached: a change here makes it anew. */
const own = createHash('sha1')
  .update(readFileSync(new URL(import.meta.url)))
  .digest('hex');

/** On the first line, so that lines keep their numbers. */
function withLocalGlobals(code) {
  const used = GLOBALS.filter((name) => new RegExp(`\\b${name}\\b`).test(code));
  if (used.length === 0) return code;
  const names = `var {${used.join(',')}}=globalThis;`;
  return code.startsWith(STRICT) ? STRICT + names + code.slice(STRICT.length) : names + code;
}

const transformer = {
  createTransformer(options) {
    const inner = swc.createTransformer(options);
    return {
      ...inner,
      process(source, path, rest) {
        const out = inner.process(source, path, rest);
        return path.includes('/node_modules/') ? out : { ...out, code: withLocalGlobals(out.code) };
      },
      getCacheKey: (...args) => own + inner.getCacheKey(...args),
    };
  },
};

export default transformer;
