// Builds what runs, only when its sources changed.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { digestOf, giveUp, root } from './machine.mjs';

const entries = {
  main: 'packages/server/src/main.ts',
  worker: 'packages/server/src/worker-main.ts',
  setup: 'packages/server/src/setup-main.ts',
  check: 'packages/server/src/check-main.ts',
  'reader-thread': 'packages/server/src/mail/reader-thread.ts',
  'calendar-thread': 'packages/server/src/net/calendar-thread.ts',
  standins: 'packages/standins/src/main.ts',
};

export async function buildServer() {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: root,
    entryPoints: entries,
    outdir: 'dist/server',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    logLevel: 'error',
    // Our own workspaces go into the bundle; everything from the registry stays a module.
    plugins: [
      {
        name: 'outside',
        setup: (it) =>
          it.onResolve({ filter: /^[^./]/ }, ({ kind, path }) =>
            kind === 'entry-point' || path.startsWith('@convite/') ? undefined : { path, external: true },
          ),
      },
    ],
  });
}

export function buildWeb() {
  const stampFile = join(root, 'dist/web.stamp');
  const digest = digestOf('packages/web', 'packages/core', 'packages/contract');
  if (
    existsSync(join(root, 'dist/web/index.html')) &&
    existsSync(stampFile) &&
    readFileSync(stampFile, 'utf8') === digest
  )
    return;
  console.log('Building the interface (about half a minute) …');
  const result = spawnSync('npx', ['ng', 'build', '--progress=false'], {
    cwd: join(root, 'packages/web'),
    encoding: 'utf8',
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  if (result.status !== 0) giveUp(`the interface did not build:\n${result.stdout}${result.stderr}`);
  writeFileSync(stampFile, digest);
}
