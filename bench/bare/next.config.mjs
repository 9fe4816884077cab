import { fileURLToPath } from 'node:url';

/** Packages are those of the project around it. */
const root = fileURLToPath(new URL('../..', import.meta.url));

const config = { turbopack: { root }, devIndicators: false };

export default config;
