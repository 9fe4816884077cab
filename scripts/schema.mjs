/**
 * npm run schema: writes the JSON schema of a song from its types, to go with every song file.
 * `-- --check` only says whether the one that is there is the one of today's types.
 */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createGenerator } from 'ts-json-schema-generator';

const FILE = 'src/storage/song.schema.json';
const schema = createGenerator({
  path: 'src/core/model/song.ts',
  tsconfig: 'tsconfig.json',
  type: 'Song',
  topRef: false,
  skipTypeCheck: true,
  additionalProperties: true,
}).createSchema('Song');
const text = `${JSON.stringify({ title: 'A song of Verse Loom', ...schema }, null, 1)}\n`;

if (!process.argv.includes('--check')) writeFileSync(FILE, text);
else if (!existsSync(FILE) || readFileSync(FILE, 'utf8') !== text) {
  console.error(`${FILE} is not the schema of the types any more: run npm run schema.`);
  process.exit(1);
}
