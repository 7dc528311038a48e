// Builds what runs, only when its sources changed.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { digestOf, giveUp, root } from './machine.mjs';
import { runWithin } from './run.mjs';

const entries = {
  main: 'packages/server/src/main.ts',
  worker: 'packages/server/src/worker-main.ts',
  setup: 'packages/server/src/setup-main.ts',
  check: 'packages/server/src/check-main.ts',
  'end-links': 'packages/server/src/end-links-main.ts',
  'reader-thread': 'packages/server/src/mail/reader-thread.ts',
  'password-thread': 'packages/server/src/services/accounts/password-thread.ts',
  'large-thread': 'packages/server/src/threads/large-thread.ts',
  'calendar-thread': 'packages/server/src/net/calendar-thread.ts',
  standins: 'packages/standins/src/main.ts',
};

/** The Angular command line, without the shell around it. */
export const ng = join(root, 'node_modules/@angular/cli/bin/ng.js');

export async function buildServer() {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    write: false,
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
  // What is the same stays untouched: processes of another run may be starting from it.
  for (const { path, contents } of outputFiles) {
    if (existsSync(path) && readFileSync(path).equals(contents)) continue;
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, contents);
  }
}

/** The builder has been seen to hang, once in some twenty runs of all tests: it is ended, and begun again. */
const buildWithinSeconds = 240;

/** Beside each script and style, the same as small as it gets: once here instead of at each request. */
function compressFiles(directory) {
  for (const name of readdirSync(directory, { recursive: true }).filter((one) => /\.(js|css)$/.test(one))) {
    const file = join(directory, name);
    const octets = readFileSync(file);
    writeFileSync(`${file}.br`, brotliCompressSync(octets));
    writeFileSync(`${file}.gz`, gzipSync(octets, { level: 9 }));
  }
}

export async function buildWeb() {
  const stampFile = join(root, 'dist/web.stamp');
  const digest = digestOf('packages/web', 'packages/core', 'packages/contract');
  if (
    existsSync(join(root, 'dist/web/index.html')) &&
    existsSync(stampFile) &&
    readFileSync(stampFile, 'utf8') === digest
  )
    return;
  console.log('Building the interface (about half a minute) …');
  const build = () =>
    runWithin(buildWithinSeconds, process.execPath, [ng, 'build', '--progress=false'], {
      cwd: join(root, 'packages/web'),
      env: { NG_CLI_ANALYTICS: 'false' },
    });
  let result = await build();
  if (result.isLate) {
    console.log(`It was not done within ${buildWithinSeconds} s, and is begun again …`);
    result = await build();
  }
  if (result.code !== 0) giveUp(`the interface did not build:\n${result.text}`);
  compressFiles(join(root, 'dist/web'));
  writeFileSync(stampFile, digest);
}
