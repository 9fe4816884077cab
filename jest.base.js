/** What both runners share: TypeScript through swc, and the same path alias as the application. */
export const base = {
  testEnvironment: 'node',
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  moduleNameMapper: {
    '^@/(.*)$': '<rootDir>/src/$1',
    // It names its parts for `import` alone, and the tests ask by `require`.
    '^@zip.js/zip.js/lib/(.*)$': '<rootDir>/node_modules/@zip.js/zip.js/lib/$1',
    // Its bundle for `require` looks for a window.
    '^vexflow/core$': '<rootDir>/node_modules/vexflow/build/esm/entry/vexflow-core.js',
  },
  transform: {
    '^.+\\.(t|j|mj)sx?$': [
      '<rootDir>/jest.transform.js',
      {
        jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' },
        module: { type: 'commonjs' },
      },
    ],
  },
  transformIgnorePatterns: ['/node_modules/(?!(nanoid|comlink|dexie|vexflow|@zip.js)/)'],
};
