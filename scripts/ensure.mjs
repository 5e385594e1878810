// Installs what is missing. Plain Node: it runs before anything is installed.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';

export const root = path.resolve(import.meta.dirname, '..');

/** Runs a command to its end with its output shown; ends this process when it fails. */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.error || result.status !== 0) {
    console.error(`\n${[command, ...args].join(' ')} failed${result.error ? `: ${result.error.message}` : ''}`);
    process.exit(result.status || 1);
  }
}

/** Runs the command-line tool of an installed package. */
export const tool = (file, args = [], options = {}) => run(process.execPath, [path.join(root, 'node_modules', file), ...args], options);

export function ensurePackages() {
  const wanted = createHash('sha256')
    .update(fs.readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  const mark = path.join(root, 'node_modules', '.lock-hash');
  if (fs.existsSync(mark) && fs.readFileSync(mark, 'utf8') === wanted) return;
  console.log('Installing the npm packages. This takes a minute the first time.');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  fs.writeFileSync(mark, wanted);
}

/** Debian packages by a file that each brings. */
export function ensureDebian(needed) {
  const missing = needed.filter(({ files }) => !files.some((file) => fs.existsSync(file))).map(({ name }) => name);
  if (missing.length === 0) return;
  const names = missing.join(' ');
  if (process.getuid?.() !== 0) {
    console.error(
      `Missing on this machine: ${names}. Install with:\n\n  sudo apt-get update && sudo apt-get install -y --no-install-recommends ${names}\n\nthen run this again.`,
    );
    process.exit(1);
  }
  console.log(`Installing from Debian: ${names}`);
  // We run a cluster of our own; Debian's package need not make one.
  if (missing.includes('postgresql')) {
    fs.mkdirSync('/etc/postgresql-common', { recursive: true });
    fs.writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  }
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env });
  // Another installation may be under way: it is waited for.
  run('apt-get', ['-o', 'DPkg::Lock::Timeout=300', 'install', '-y', '-qq', '--no-install-recommends', ...missing], { env });
}

const binaries = fs.existsSync('/usr/lib/postgresql')
  ? fs.readdirSync('/usr/lib/postgresql').map((version) => `/usr/lib/postgresql/${version}/bin/initdb`)
  : [];
export const postgresql = { name: 'postgresql', files: [...binaries, '/usr/lib/postgresql/15/bin/initdb'] };
// The one without a window takes a quarter less time; the other one will do where it is there already.
const browsers = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'];
export const chromium = { name: 'chromium-headless-shell', files: process.env.CHROMIUM ? [process.env.CHROMIUM] : browsers };
/** The browser that is there, once it has been ensured. */
export const chromiumFile = () => chromium.files.find((file) => fs.existsSync(file));
