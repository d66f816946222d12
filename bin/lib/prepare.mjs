import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { runChild } from './children.mjs';

/** Install the npm packages when the lock file is another than the one last installed. */
export async function ensureModules(root) {
  const lock = createHash('sha256').update(readFileSync(path.join(root, 'package-lock.json'))).digest('hex');
  const stamp = path.join(root, 'node_modules/.leadline-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return 'already there';
  await runChild('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: root });
  writeFileSync(stamp, lock);
  return 'installed';
}

/** Build the web application when its sources are other than those last built. */
export async function ensureBuild(root) {
  const hash = createHash('sha256');
  for (const file of sources(path.join(root, 'src')).concat(['package-lock.json', 'next.config.ts', 'tsconfig.json'].map((name) => path.join(root, name)))) hash.update(file.slice(root.length)).update(readFileSync(file));
  const [stamp, digest] = [path.join(root, '.next/leadline-sources'), hash.digest('hex')];
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return 'already built';
  await runChild(process.execPath, [path.join(root, 'node_modules/next/dist/bin/next'), 'build'], { cwd: root, env: { NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' } });
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, digest);
  return 'built';
}

function sources(folder) {
  return readdirSync(folder).sort().flatMap((name) => {
    const file = path.join(folder, name);
    return statSync(file).isDirectory() ? sources(file) : /\.test\.tsx?$/.test(name) ? [] : [file];
  });
}
