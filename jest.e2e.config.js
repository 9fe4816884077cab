import { base } from './jest.base.js';

const config = {
  ...base,
  displayName: 'e2e',
  roots: ['<rootDir>/e2e'],
  testTimeout: 240_000,
  maxWorkers: 1,
};

export default config;
