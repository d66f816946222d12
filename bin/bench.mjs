#!/usr/bin/env node
// Measures with a private database of its own and prints ratios.
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { runChild } from './lib/children.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensureModules } from './lib/prepare.mjs';

const root = path.resolve(import.meta.dirname, '..');
process.chdir(root);
const scratch = mkdtempSync(path.join(os.tmpdir(), 'leadline-bench-db-'));
let database;
let code = 0;
try {
  ensurePackages('run');
  await ensureModules(root);
  database = await startDatabase(path.join(scratch, 'mariadb'));
  for (const bench of ['bench/slice.ts', 'bench/workers.ts', 'bench/scale.ts']) await runChild(process.execPath, ['--import', 'tsx', bench], { env: { LEADLINE_DATABASE_URL: database.url('leadline') }, show: true });
} catch (error) {
  console.error(error.message);
  code = 1;
} finally {
  await database?.stop().catch(() => undefined);
  rmSync(scratch, { recursive: true, force: true });
}
process.exit(code);
