import next from 'eslint-config-next';
import tseslint from 'typescript-eslint';

/** A room may not open the doors named here. Paths are alias imports, the only ones allowed across rooms. */
const closedDoors = (rooms, why) => ({
  patterns: [{ group: rooms.flatMap((room) => [`@/${room}`, `@/${room}/**`]), message: why }],
});
const everyRoomBut = (...open) =>
  ['digitise', 'engine', 'connectors', 'store', 'services', 'app', 'ui', 'worker', 'cli', 'standins', 'settings'].filter((room) => !open.includes(room));
const outsideWorld = ['node:*', 'fs', 'path', 'child_process', 'next', 'next/*', 'react', 'react-dom', '@mui/*', 'mysql2', 'mysql2/*', 'drizzle-orm', 'drizzle-orm/*'];

const injected = [
  { selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']", message: 'Take the time from src/settings/clock.' },
  { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: 'Take the time from src/settings/clock.' },
  { selector: "CallExpression[callee.object.name='Math'][callee.property.name='random']", message: 'Take chance from src/settings/random.' },
  { selector: "MemberExpression[object.name='process'][property.name='env']", message: 'The environment is read in src/settings/settings only.' },
];

const config = [
  { ignores: ['.next/**', 'node_modules/**', 'data/**', 'build/**', 'next-env.d.ts'] },
  ...next,
  ...tseslint.configs.strict,
  {
    files: ['src/**/*.{ts,tsx}', 'demo/**/*.ts', 'tests/**/*.ts', 'bench/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
      'max-lines-per-function': ['error', { max: 90, skipBlankLines: true, skipComments: true }],
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ['src/**/*.{ts,tsx}'], ignores: ['src/settings/**', 'src/standins/**', '**/*.test.{ts,tsx}'], rules: { 'no-restricted-syntax': ['error', ...injected] } },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-imports': ['error', { patterns: [
        ...closedDoors(everyRoomBut(), 'core computes and touches nothing: it imports only core.').patterns,
        { group: outsideWorld, message: 'core has no I/O and no framework.' },
      ] }],
    },
  },
  { files: ['src/ui/**/*.{ts,tsx}'], rules: { 'no-restricted-imports': ['error', closedDoors(everyRoomBut('ui'), 'ui talks to the server over HTTP; it may import only core and ui.')] } },
  { files: ['src/standins/**/*.ts'], rules: { 'no-restricted-imports': ['error', closedDoors(everyRoomBut('standins', 'settings'), 'stand-ins share nothing with us but contracts.')] } },
  { files: ['src/store/**/*.ts'], rules: { 'no-restricted-imports': ['error', closedDoors(everyRoomBut('store', 'settings'), 'store knows the database and core, nothing above it.')] } },
  { files: ['src/connectors/**/*.ts'], rules: { 'no-restricted-imports': ['error', closedDoors(['engine', 'services', 'app', 'ui', 'worker', 'cli', 'standins'], 'connectors are called by the engine, they do not call it.')] } },
  { files: ['src/digitise/**/*.ts'], rules: { 'no-restricted-imports': ['error', closedDoors(everyRoomBut('digitise', 'settings'), 'digitise turns bytes into pages and knows nothing else.')] } },
  { files: ['**/*.test.{ts,tsx}', 'tests/**/*.ts', 'bench/**/*.ts'], rules: { 'max-lines-per-function': 'off', '@typescript-eslint/no-non-null-assertion': 'off', 'no-restricted-imports': 'off' } },
  // A fixture of the browser tests is handed over by a function called "use".
  { files: ['tests/e2e/**/*.ts'], rules: { 'react-hooks/rules-of-hooks': 'off' } },
];

export default config;
