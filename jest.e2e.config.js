import { base } from './jest.base.js';

const config = {
  ...base,
  displayName: 'e2e',
  roots: ['<rootDir>/e2e'],
  testTimeout: 600_000,
  globalSetup: '<rootDir>/e2e/storedProfile.ts',
};

export default config;
