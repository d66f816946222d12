import { execFileSync, spawnSync } from 'node:child_process';

/** Every Debian package the project uses, with the program that shows whether it is there, and what for. The one list. */
export const PACKAGES = [
  { name: 'mariadb-server', program: 'mariadbd', for: ['run', 'test'] },
  { name: 'mariadb-client', program: 'mariadb-admin', for: ['run', 'test'] },
  { name: 'poppler-utils', program: 'pdftotext', for: ['run', 'test'] },
  { name: 'tesseract-ocr', program: 'tesseract', for: ['run', 'test'] },
  { name: 'tesseract-ocr-eng', file: '/usr/share/tesseract-ocr/5/tessdata/eng.traineddata', for: ['run', 'test'] },
  { name: 'chromium', program: 'chromium', for: ['test'] },
  { name: 'dovecot-imapd', program: 'dovecot', for: ['test'] },
  { name: 'qpdf', program: 'qpdf', for: ['test'] },
  { name: 'python3-openpyxl', file: '/usr/lib/python3/dist-packages/openpyxl', for: ['test'] },
];

const isThere = (item) => (item.file ? spawnSync('test', ['-e', item.file]).status === 0 : spawnSync('sh', ['-c', `command -v ${item.program} || test -x /usr/sbin/${item.program}`]).status === 0);

/** Install what is missing (as root), or say exactly what to install. Returns the names installed. */
export function ensurePackages(purpose) {
  const missing = PACKAGES.filter((item) => item.for.includes(purpose) && !isThere(item)).map((item) => item.name);
  if (missing.length === 0) return [];
  const command = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid?.() !== 0) throw new Error(`These Debian packages are missing: ${missing.join(', ')}. Install them with:\n  sudo ${command}\nand start again.`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  try {
    execFileSync('apt-get', ['update', '-qq'], { stdio: ['ignore', 'ignore', 'inherit'], env });
    execFileSync('sh', ['-c', `${command} -qq`], { stdio: ['ignore', 'ignore', 'inherit'], env });
  } catch (error) {
    throw new Error(`Installing ${missing.join(', ')} failed (${error.message.split('\n')[0]}). Try by hand: ${command}`);
  }
  return missing;
}
