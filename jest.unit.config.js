import { base } from './jest.base.js';

const config = {
  ...base,
  displayName: 'unit',
  roots: ['<rootDir>/src'],
  // Long enough for a busy machine, and for the many runs of `npm run explore`.
  testTimeout: 600_000,
  maxWorkers: 2,
  setupFiles: ['<rootDir>/jest.seed.js'],
};

export default config;
