import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative, sep } from 'node:path';

const root = join(process.cwd(), 'packages');

/** ARCHITECTURE's arrows between packages, and inside core and web. */
const packagesMay: Record<string, string[]> = {
  core: [],
  contract: ['core'],
  server: ['core', 'contract'],
  standins: [],
  web: ['core', 'contract'],
};
const coreMay: Record<string, string[]> = {
  time: [],
  recurrence: ['time'],
  event: ['time', 'recurrence'],
  calendar: ['event', 'recurrence', 'time'],
  links: ['event', 'recurrence', 'time'],
  audience: ['time'],
  countdown: ['event', 'audience', 'recurrence', 'time'],
  digest: ['event', 'time'],
  message: ['event', 'links', 'time'],
  people: ['calendar', 'audience', 'message', 'time'],
  results: [],
};

interface Import {
  readonly file: string;
  readonly target: string;
}

const files = (readdirSync(root, { recursive: true, encoding: 'utf8' }) as string[]).filter(
  (file) =>
    file.endsWith('.ts') &&
    file.includes(`${sep}src${sep}`) &&
    !file.includes('node_modules') &&
    !file.endsWith('.spec.ts') &&
    !file.includes('testing'),
);
const imports: Import[] = files.flatMap((file) =>
  [...readFileSync(join(root, file), 'utf8').matchAll(/(?:from|import\()\s*'([^']+)'/g)].map((match) => ({
    file,
    target: match[1] ?? '',
  })),
);
const placeOf = ({ file, target }: Import): string => relative(root, join(root, dirname(file), target));

describe('the layers', () => {
  it('packages import only along the arrows', () => {
    const wrong = imports.filter(({ file, target }) => {
      const [from = ''] = file.split(sep);
      const to = /^@convite\/(\w+)/.exec(target)?.[1];
      return to !== undefined && !packagesMay[from]?.includes(to);
    });
    expect(wrong).toEqual([]);
  });

  it('core’s folders answer their own question, and core has no I/O and no clock', () => {
    const wrong = imports.filter((one) => {
      if (!one.file.startsWith(`core${sep}`) || one.file.endsWith('index.ts')) return false;
      if (!one.target.startsWith('.'))
        return !['temporal-polyfill', 'rrule-temporal', 'libphonenumber-js/min'].includes(one.target);
      const [from, to] = [one.file.split(sep)[2] ?? '', placeOf(one).split(sep)];
      return to.length > 3 && to[2] !== from && !coreMay[from]?.includes(to[2] ?? '');
    });
    expect(wrong).toEqual([]);
    const clocks = files.filter(
      (file) =>
        file.startsWith(`core${sep}`) &&
        /Date\.now\(|new Date\(\)|Math\.random|Temporal\.Now/.test(readFileSync(join(root, file), 'utf8')),
    );
    expect(clocks).toEqual([]);
  });

  it('only the store knows Knex, and http and worker never meet', () => {
    const ofServer = imports.filter(({ file }) => file.startsWith(`server${sep}`));
    const inFolder = (one: Import, folder: string): boolean => one.file.startsWith(join('server', 'src', folder));
    const startsUp = ['assemble.ts', 'setup-main.ts'];
    expect(
      ofServer.filter(
        (one) => one.target === 'knex' && !inFolder(one, 'store') && !startsUp.some((name) => one.file.endsWith(name)),
      ),
    ).toEqual([]);
    const meets = (one: Import, folder: string): boolean => placeOf(one).startsWith(join('server', 'src', folder));
    expect(
      ofServer.filter(
        (one) => (inFolder(one, 'http') && meets(one, 'worker')) || (inFolder(one, 'worker') && meets(one, 'http')),
      ),
    ).toEqual([]);
    expect(ofServer.filter((one) => inFolder(one, 'store') && (meets(one, 'services') || meets(one, 'http')))).toEqual(
      [],
    );
  });

  it('a feature of the web never imports a feature, and ui no api', () => {
    const features = ['call-board', 'events', 'digests', 'audience', 'wording', 'backstage', 'account', 'settings'];
    const wrong = imports.filter((one) => {
      const [, , , from = ''] = one.file.split(sep);
      const [, , , to = ''] = placeOf(one).split(sep);
      if (!one.file.startsWith(join('web', 'src', 'app')) || !one.target.startsWith('.')) return false;
      return (
        (features.includes(from) && features.includes(to) && from !== to) ||
        (from === 'ui' && (to === 'api' || features.includes(to)))
      );
    });
    expect(wrong).toEqual([]);
  });

  it('routes reach the store through services only', () => {
    const routes = files.filter(
      (file) =>
        file.startsWith(join('server', 'src', 'http')) && /\bRouter\(\)/.test(readFileSync(join(root, file), 'utf8')),
    );
    expect(routes.length).toBeGreaterThan(8);
    expect(routes.filter((file) => /\bstore\b[.\s}]/.test(readFileSync(join(root, file), 'utf8')))).toEqual([]);
  });

  it('no module waits for itself', () => {
    // Types are gone when it runs; what is imported for more than its types counts.
    const needs = new Map(files.map((file) => [file, runtimeImportsOf(file)]));
    const circles = files.filter((file) => reaches(file, file, needs, new Set()));
    expect(circles).toEqual([]);
  });
});

function runtimeImportsOf(file: string): string[] {
  const text = readFileSync(join(root, file), 'utf8');
  return [...text.matchAll(/^(?:import|export) (?!type\b)([^;]*?)from '(\.[^']+)'/gms)].flatMap(
    ([, names = '', target = '']) => {
      const named = /^\{([\s\S]*)\}\s*$/
        .exec(names.trim())?.[1]
        ?.split(',')
        .filter((name) => name.trim() !== '');
      if (named?.every((name) => name.trim().startsWith('type '))) return [];
      return [normalize(`${join(dirname(file), target)}.ts`)];
    },
  );
}

function reaches(from: string, to: string, needs: ReadonlyMap<string, string[]>, seen: Set<string>): boolean {
  return (needs.get(from) ?? []).some((next) => {
    if (next === to) return true;
    if (seen.has(next)) return false;
    seen.add(next);
    return reaches(next, to, needs, seen);
  });
}
