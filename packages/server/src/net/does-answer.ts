import { guardedGet, reasonOf } from './guarded-get';

/** Whether an address that people will press answers, and what it said, in words. */
export interface Answered {
  readonly isGood: boolean;
  readonly said: string;
}

const withinMs = 5_000;

/** Asks once, and reads nothing of what comes. @param allowPrivate inside addresses may be asked too */
export async function doesAnswer(address: string, allowPrivate: boolean): Promise<Answered> {
  try {
    const response = await guardedGet(address, { allowPrivate, withinMs });
    const { statusCode = 0 } = response;
    response.destroy();
    // A page behind a door is there all the same.
    const isGood = (statusCode >= 200 && statusCode < 300) || statusCode === 401 || statusCode === 403;
    return { isGood, said: isGood ? 'It answers.' : `It answers ${statusCode} instead of a page.` };
  } catch (error) {
    return { isGood: false, said: reasonOf(error, { withinMs }) };
  }
}
