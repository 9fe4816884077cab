import { base } from './jest.base.js';

export default { ...base, displayName: 'unit', roots: ['<rootDir>/src'] };
