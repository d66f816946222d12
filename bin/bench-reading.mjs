#!/usr/bin/env node
// Measures how well papers are read; needs no database.
import path from 'node:path';
import { runChild } from './lib/children.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensureModules } from './lib/prepare.mjs';

const root = path.resolve(import.meta.dirname, '..');
process.chdir(root);
try {
  ensurePackages('run');
  await ensureModules(root);
  await runChild(process.execPath, ['--import', 'tsx', 'bench/recognition.ts'], { show: true });
  await runChild(process.execPath, ['--import', 'tsx', 'bench/reading.ts', ...process.argv.slice(2)], { show: true });
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
