import express, { type RequestHandler } from 'express';

/** Nothing of ours is nested half as deep. */
const deepest = 40;

/**
 * Reads a JSON body, bounded in size and in depth before it is parsed. Half a character (a lone surrogate) is refused
 * with 400: no database takes it.
 * @param limit such as `3mb`
 */
export const readJsonBody = (limit: string): RequestHandler =>
  express.json({
    limit,
    verify: (_request, _response, octets) => {
      if (isTooDeep(octets)) throw badRequest('nested too deeply');
    },
    reviver: (_key, value: unknown) => {
      if (typeof value === 'string' && /\p{Surrogate}/u.test(value)) throw badRequest('half a character');
      return value;
    },
  });

const badRequest = (what: string): Error => Object.assign(new Error(what), { status: 400, statusCode: 400 });

const [quote, backslash, openBracket, openBrace, closeBracket, closeBrace] = [...'"\\[{]}'].map((mark) =>
  mark.charCodeAt(0),
);

/** Counts brackets outside strings, octet by octet: parsing is what must not happen. */
function isTooDeep(octets: Uint8Array): boolean {
  let depth = 0;
  let isInString = false;
  for (let at = 0; at < octets.length; at += 1) {
    const octet = octets[at];
    if (isInString) {
      if (octet === backslash) at += 1;
      else if (octet === quote) isInString = false;
    } else if (octet === quote) isInString = true;
    else if (octet === openBracket || octet === openBrace) {
      depth += 1;
      if (depth > deepest) return true;
    } else if (octet === closeBracket || octet === closeBrace) depth -= 1;
  }
  return false;
}
