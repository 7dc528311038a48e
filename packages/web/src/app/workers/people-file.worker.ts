/// <reference lib="webworker" />
import { guessColumns, splitWords, type PeopleTable } from '@convite/core';
import type { AskFile, FileSays, SeenSheet } from './people-file';
import { readPeopleFile, readPeopleText, Unreadable } from './read-people-file';

let sheets: readonly { readonly name: string; readonly table: PeopleTable }[] = [];
const samples = 5;
const mostWords = 500;

const say = (said: FileSays): void => postMessage(said);

addEventListener('message', ({ data }: MessageEvent<AskFile>) => {
  void answer(data).catch((error: unknown) =>
    say({ kind: 'failed', why: error instanceof Unreadable ? error.message : 'This file cannot be read.' }),
  );
});

async function answer(asked: AskFile): Promise<void> {
  if (asked.kind === 'read') {
    let told = 0;
    const tell = (share: number): void => {
      if (share - told < 0.05) return;
      told = share;
      say({ kind: 'progress', share });
    };
    const { what } = asked;
    sheets =
      typeof what === 'string'
        ? [{ name: '', table: readPeopleText(what, tell) }]
        : (await readPeopleFile(new Uint8Array(await what.arrayBuffer()), tell)).sheets;
    const seen = sheets.map(({ name, table }): SeenSheet => {
      const columns = table.headings.map((heading, index) => ({
        heading,
        values: table.rows.map(({ cells }) => cells[index] ?? ''),
      }));
      const guesses = guessColumns(columns, asked.dayOrder);
      return {
        name,
        rowCount: table.rows.length,
        columns: columns.map(({ heading, values }, index) => ({
          heading,
          samples: values.filter(Boolean).slice(0, samples),
          guess: guesses[index] ?? { target: { to: 'nothing' }, doubts: [] },
          words: wordsOf(values),
        })),
      };
    });
    say({ kind: 'read', sheets: seen });
    return;
  }
  const table = sheets[asked.sheet]?.table;
  say({ kind: 'rows', from: asked.from, rows: table?.rows.slice(asked.from, asked.from + asked.count) ?? [] });
}

/** Each thing that stands in a column once, as far as they are few: names of lists, or topics. */
function wordsOf(values: readonly string[]): string[] | null {
  const words = new Map<string, string>();
  for (const value of values)
    for (const word of splitWords(value)) {
      const key = word.toLowerCase();
      if (!words.has(key)) words.set(key, word);
      if (words.size > mostWords) return null;
    }
  return [...words.values()].sort();
}
