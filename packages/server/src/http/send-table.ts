import type { Response } from 'express';
import type { TableFormat } from '@convite/contract';
import { mediaTypes, writeTable, type TextRows } from '../files/table-file';

/** Sends a table as a file, no faster than it is taken; who goes away ends it. */
export async function sendTable(
  response: Response,
  {
    format,
    name,
    heading,
    rows,
  }: {
    readonly format: TableFormat;
    readonly name: string;
    readonly heading: readonly string[];
    readonly rows: TextRows;
  },
): Promise<void> {
  response.type(mediaTypes[format]).attachment(`${name}.${format}`);
  for await (const piece of writeTable(format, heading, rows)) {
    if (response.destroyed) return;
    if (!response.write(piece)) await new Promise((resolve) => response.once('drain', resolve).once('close', resolve));
  }
  response.end();
}
