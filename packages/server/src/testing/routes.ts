import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** An address that the interface may ask, with `:id` and the like in it. */
export interface Route {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
}

const here = join(process.cwd(), 'packages/server/src');

/** Every address below `/api`, as `app.ts` and the files of `http/` write them down. */
export function apiRoutes(): Route[] {
  const app = readFileSync(join(here, 'app.ts'), 'utf8');
  const mounts = new Map(
    [...app.matchAll(/routes\.use\(\s*(?:'([^']*)',\s*)?(\w+Routes)\(/g)].map(([, prefix = '', name = '']) => [
      name,
      prefix,
    ]),
  );
  const files = readdirSync(join(here, 'http')).filter((file) => file.endsWith('.ts') && !file.endsWith('.spec.ts'));
  const routes = files.flatMap((file) => {
    const text = readFileSync(join(here, 'http', file), 'utf8');
    const name = /export function (\w+Routes)\(/.exec(text)?.[1] ?? '';
    const prefix = mounts.get(name);
    if (prefix === undefined) return [];
    return [...text.matchAll(/routes\s*\.(get|post|put|delete)\(\s*(['`])([^'`]+)\2/g)].flatMap(
      ([, method = '', , path = '']) =>
        (path.includes('${format}') ? ['csv', 'xlsx'] : ['']).map((format) => ({
          method: method.toUpperCase() as Route['method'],
          path: `/api${prefix}${path.replace('${format}', format).replace(/\/$/, '')}`,
        })),
    );
  });
  return routes;
}
