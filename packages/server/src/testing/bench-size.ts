/** The whole bench over a few rows: it proves that the bench works, and measures nothing. `npm test` runs it so. */
export const isTiny = process.env['BENCH_TINY'] === 'true';

/** How many of something the bench takes. */
export const sized = (full: number, tiny: number): number => (isTiny ? tiny : full);
