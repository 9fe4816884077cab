import { base } from './jest.base.js';

const config = { ...base, displayName: 'unit', roots: ['<rootDir>/src'] };

export default config;
