// What the machine must have: Debian packages, Node modules, free ports. Each lack ends in one clear sentence.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../../', import.meta.url));

/** Ends the program with a sentence that says what to do. */
export function giveUp(sentence) {
  console.error(`\nConvite cannot go on: ${sentence}`);
  process.exit(1);
}

export function needNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major !== 20 || minor < 19)
    giveUp(`it needs Node 20.19 or a later 20, and this is ${process.versions.node}. Install Node 20 and start again.`);
}

/** Installs a Debian package when its program is missing. */
export function needProgram(program, debianPackage) {
  if (isInstalled(program)) return;
  if (process.getuid?.() !== 0)
    giveUp(`${program} is missing, and installing it needs root. Run: sudo apt-get install ${debianPackage}`);
  if (!isInstalled('apt-get'))
    giveUp(`${program} is missing, and this is no Debian. Install ${debianPackage} by hand and start again.`);
  console.log(`Installing Debian's ${debianPackage} (once) …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) =>
    spawnSync('apt-get', ['-qq', '-o', 'Dpkg::Use-Pty=0', ...args], {
      env,
      stdio: ['ignore', 'ignore', 'pipe'],
      encoding: 'utf8',
    });
  apt('update');
  const installed = apt('install', '-y', '--no-install-recommends', debianPackage);
  if (!isInstalled(program))
    giveUp(`apt-get could not install ${debianPackage}: ${installed.stderr.trim().split('\n').at(-1) ?? ''}`);
}

const isInstalled = (program) =>
  spawnSync('sh', ['-c', `command -v ${program}`], { env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin` } })
    .status === 0;

/** Runs `npm ci` when the lock file differs from what is installed. */
export function needModules() {
  const stampFile = join(root, 'node_modules', '.convite-lock');
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === lock) return;
  console.log('Installing Node modules (once, about a minute) …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (result.status !== 0) giveUp('npm ci failed; its message is above. Is the npm registry reachable?');
  mkdirSync(join(root, 'node_modules'), { recursive: true });
  writeFileSync(stampFile, lock);
}

/** @param variable the environment variable that would move the port elsewhere */
export async function needFreePort(port, what, variable) {
  const isFree = await new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
  if (!isFree)
    giveUp(
      `port ${port}, for ${what}, is in use. Stop what uses it, or choose another base port, as in: ${variable}=5100 npm start`,
    );
}

/** A digest of the files git knows below some folders, so that a build is repeated only when a source changed. */
export function digestOf(...folders) {
  const hash = createHash('sha256');
  const listed = execFileSync(
    'git',
    ['ls-files', '-co', '--exclude-standard', ...folders, 'package-lock.json', 'tsconfig.base.json'],
    { cwd: root, encoding: 'utf8' },
  );
  for (const file of listed.split('\n').filter(Boolean).sort()) {
    const path = join(root, file);
    if (existsSync(path)) hash.update(file).update(readFileSync(path));
  }
  return hash.digest('hex');
}
