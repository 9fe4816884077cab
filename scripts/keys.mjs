/** npm run keys: writes the table of keys in the README from what the application does. */
import { ensureModules, runTypeScript } from './lib.mjs';

ensureModules();
await runTypeScript('scripts/keys.ts');
