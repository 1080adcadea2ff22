const transform = {
  '^.+\\.m?(t|j)sx?$': [
    '@swc/jest',
    {
      module: { type: 'commonjs' },
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', tsx: true },
        transform: { react: { runtime: 'automatic' } },
      },
    },
  ],
};
const shared = {
  testEnvironment: '<rootDir>/scripts/plainenvironment.cjs',
  moduleFileExtensions: ['ts', 'tsx', 'js', 'mjs', 'cjs', 'json', 'node'],
  transform,
  transformIgnorePatterns: [
    '/node_modules/(?!(three|three-mesh-bvh|earcut|fast-png|iobuffer|tiff|svg-pathdata|@gltf-transform|property-graph|jsep|idb|meshoptimizer)/)',
  ],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1', '^fast-check$': '<rootDir>/scripts/fastcheck.cjs' },
  modulePathIgnorePatterns: ['<rootDir>/.next', '<rootDir>/.build', '<rootDir>/.data'],
};
export default {
  projects: [
    { ...shared, displayName: 'unit', testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx'] },
    {
      ...shared,
      displayName: 'whole',
      testMatch: ['<rootDir>/tests/**/*.test.ts'],
      globalSetup: '<rootDir>/tests/before.ts',
      globalTeardown: '<rootDir>/tests/after.ts',
    },
  ],
};
