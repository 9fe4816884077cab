import { base } from './jest.base.js';

const config = {
  ...base,
  displayName: 'e2e',
  roots: ['<rootDir>/e2e'],
  testTimeout: 90_000,
  maxWorkers: 1,
};

export default config;
