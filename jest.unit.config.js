import { base } from './jest.base.js';

const config = {
  ...base,
  displayName: 'unit',
  roots: ['<rootDir>/src'],
  setupFiles: ['<rootDir>/jest.seed.js'],
};

export default config;
