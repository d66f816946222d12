const swc = ['@swc/jest', { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022', transform: { react: { runtime: 'automatic' } } }, module: { type: 'commonjs' } }];
const base = {
  transform: { '^.+\\.(m?[tj]sx?)$': swc },
  // ESM-only packages are transformed along with our own code.
  transformIgnorePatterns: ['/node_modules/(?!(p-limit|yocto-queue|chokidar|readdirp|ulid|linear-sum-assignment|ml-[a-z-]+|is-any-array|cheminfo-types)/)'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  testEnvironment: 'node',
};

const config = {
  // Two cores that are busy with other suites can be slow.
  testTimeout: 90_000,
  projects: [
    { ...base, displayName: 'unit', testMatch: ['<rootDir>/src/**/*.test.{ts,tsx}', '<rootDir>/demo/**/*.test.ts'], testPathIgnorePatterns: ['\\.db\\.test\\.ts$'] },
    { ...base, displayName: 'outside', testMatch: ['<rootDir>/tests/outside/**/*.test.ts'] },
    { ...base, displayName: 'database', testMatch: ['<rootDir>/src/**/*.db.test.ts'] },
    { ...base, displayName: 'system', testMatch: ['<rootDir>/tests/system/**/*.test.ts'] },
  ],
};

export default config;
