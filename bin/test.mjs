#!/usr/bin/env node
// All tests with their own set-up: packages, build, a private database, lint, types, unit, outside, database, system, browser.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { startDatabase } from './lib/database.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensureBuild, ensureModules } from './lib/prepare.mjs';
import { stage } from './lib/stage.mjs';

const root = path.resolve(import.meta.dirname, '..');
process.chdir(root);
const { values: options } = parseArgs({ options: { only: { type: 'string' } } });
const wanted = (name) => !options.only || options.only.split(',').includes(name);
const scratch = mkdtempSync(path.join(os.tmpdir(), 'leadline-test-'));
const tally = { passed: 0, failed: 0 };
let database;

/** Run a command with its output shown; resolves with its exit code. */
const show = (command, args, env = {}) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...env } });
    child.on('close', resolve);
    child.on('error', () => resolve(127));
  });
const bin = (name) => path.join(root, 'node_modules/.bin', name);

async function asOne(name, command, args) {
  const code = await show(command, args);
  tally[code === 0 ? 'passed' : 'failed'] += 1;
  console.log(`${name}: ${code === 0 ? 'passed' : 'FAILED'}`);
}

async function jest(project, ...more) {
  const file = path.join(scratch, `${project}.json`);
  const code = await show(bin('jest'), ['--selectProjects', project, '--json', `--outputFile=${file}`, ...more], { LEADLINE_DATABASE_URL: database?.url('leadline') ?? '' });
  count(file, code, (result) => [result.numPassedTests, result.numFailedTests + result.numRuntimeErrorTestSuites]);
}

async function playwright() {
  const file = path.join(scratch, 'browser.json');
  const code = await show(bin('playwright'), ['test'], { LEADLINE_DATABASE_URL: database.url('leadline'), PLAYWRIGHT_JSON_OUTPUT_NAME: file });
  count(file, code, (result) => [result.stats.expected + result.stats.flaky, result.stats.unexpected + result.errors.length]);
}

/** A runner that died without a report, or failed without naming a test, counts as one failure. */
function count(file, code, read) {
  let [passed, failed] = [0, 0];
  try {
    [passed, failed] = read(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    failed = 1;
  }
  if (code !== 0 && failed === 0) failed = 1;
  tally.passed += passed;
  tally.failed += failed;
}

try {
  await stage('Debian packages', () => ensurePackages('test').join(', ') || 'already there');
  await stage('npm packages', () => ensureModules(root));
  if (wanted('browser') || wanted('system')) await stage('Web application', () => ensureBuild(root));
  if (['database', 'system', 'browser'].some(wanted)) await stage('Test database', async () => void (database = await startDatabase(path.join(scratch, 'mariadb'), ['leadline'], { durable: false })));
  if (wanted('lint')) await asOne('Lint with the room rules', bin('eslint'), ['.', '--max-warnings', '0']);
  if (wanted('types')) await asOne('Types', bin('tsc'), ['--noEmit']);
  if (wanted('unit')) await jest('unit');
  if (wanted('outside')) await jest('outside');
  if (wanted('database')) await jest('database', '--runInBand');
  if (wanted('system')) await jest('system', '--runInBand');
  if (wanted('browser')) await playwright();
} catch (error) {
  console.error(error.message);
  tally.failed += 1;
} finally {
  await database?.stop().catch((error) => console.error(error.message));
  rmSync(scratch, { recursive: true, force: true });
}
console.log(`${tally.passed} passed, ${tally.failed} failed`);
process.exit(tally.failed === 0 && tally.passed > 0 ? 0 : 1);
