// Where databases that nobody keeps lie: in memory where there is room, since making tables waits for the disk.
import { createHash } from 'node:crypto';
import { existsSync, statfsSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './machine.mjs';

const inMemory = '/dev/shm';
const leastFreeOctets = 6 * 1024 ** 3;

/** @param name such as `.test`; each checkout has its own */
export function quickFolder(name) {
  if (!existsSync(inMemory)) return join(root, name);
  const { bavail, bsize } = statfsSync(inMemory);
  if (bavail * bsize < leastFreeOctets) return join(root, name);
  const checkout = createHash('sha256').update(root).digest('hex').slice(0, 8);
  return join(inMemory, `convite-${checkout}`, name);
}
