import { Resolver } from 'node:dns/promises';

const timeoutMs = 3000;

/** Asks the DNS for the texts at a name. @throws Error where no name server answers in time */
export async function askNames(name: string): Promise<readonly string[]> {
  const resolver = new Resolver({ timeout: timeoutMs, tries: 1 });
  try {
    return (await resolver.resolveTxt(name)).map((pieces) => pieces.join(''));
  } catch (error) {
    const code = error instanceof Error ? Reflect.get(error, 'code') : '';
    if (code === 'ENODATA' || code === 'ENOTFOUND') return [];
    throw error;
  }
}
