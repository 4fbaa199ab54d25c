const ts = { '^.+\\.ts$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } }, module: { type: 'es6' } }] };
const base = {
  rootDir: '.',
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts'],
  transform: ts,
  moduleNameMapper: {
    '^@orderly-glyph/core$': '<rootDir>/packages/core/src/index.ts',
    '^@orderly-glyph/core/(\\w+)$': '<rootDir>/packages/core/src/$1/index.ts',
    '^@orderly-glyph/(schema|node)$': '<rootDir>/packages/$1/src/index.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
};

/** 'unit' needs nothing but the machine's reference programs; 'api' starts a database and the built server. */
export default {
  projects: [
    {
      ...base,
      displayName: 'unit',
      testMatch: ['<rootDir>/packages/**/*.test.ts', '<rootDir>/apps/**/*.test.ts'],
      testPathIgnorePatterns: ['/node_modules/', '/dist/', '/apps/server/test/'],
    },
    { ...base, displayName: 'api', testMatch: ['<rootDir>/apps/server/test/**/*.test.ts'] },
    // After 'api', on the statements that its servers sent.
    { ...base, displayName: 'plans', testMatch: ['<rootDir>/apps/server/test/plans.ts'] },
  ],
  testTimeout: 600_000,
};
