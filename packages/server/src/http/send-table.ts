import type { Response } from 'express';
import type { TableFormat } from '@convite/contract';
import { mediaTypes, writeTable, type TextRows } from '../files/table-file';
import { sendPieces } from './send-pieces';

/** Sends a table as a file. */
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
  await sendPieces(response, {
    name: `${name}.${format}`,
    type: mediaTypes[format],
    pieces: writeTable(format, heading, rows),
  });
}
