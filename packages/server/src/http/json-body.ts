import express, { type RequestHandler } from 'express';

/** Nothing of ours is nested half as deep. */
const deepest = 40;

/** More names of values than any request of the interface has that is not worked on in a thread of its own. */
const mostNames = 20_000;

/**
 * Reads a JSON body, bounded in size, in depth and in names before it is parsed. Half a character (a lone surrogate) is refused
 * with 400: no database takes it.
 * @param limit such as `3mb`
 * @param isAlone nobody else is served by this thread, and it can be ended: as many names as there is room for
 */
export const readJsonBody = (limit: string, isAlone = false): RequestHandler =>
  express.json({
    limit,
    // What is packed is small on the way and large here.
    inflate: false,
    verify: (_request, _response, octets) => {
      const { depth, names } = measure(octets);
      if (depth > deepest) throw badRequest('nested too deeply');
      if (!isAlone && names > mostNames) throw badRequest('too many values');
    },
    reviver: (_key, value: unknown) => {
      if (typeof value === 'string' && /\p{Surrogate}/u.test(value)) throw badRequest('half a character');
      return value;
    },
  });

const badRequest = (what: string): Error => Object.assign(new Error(what), { status: 400, statusCode: 400 });

const [quote, backslash, colon, openBracket, openBrace, closeBracket, closeBrace] = [...'"\\:[{]}'].map((mark) =>
  mark.charCodeAt(0),
);

/** Counts brackets and colons outside strings, octet by octet: parsing is what must not happen. */
function measure(octets: Uint8Array): { readonly depth: number; readonly names: number } {
  let depth = 0;
  let deepestSeen = 0;
  let names = 0;
  let isInString = false;
  for (let at = 0; at < octets.length; at += 1) {
    const octet = octets[at];
    if (isInString) {
      if (octet === backslash) at += 1;
      else if (octet === quote) isInString = false;
    } else if (octet === quote) isInString = true;
    else if (octet === openBracket || octet === openBrace) {
      depth += 1;
      deepestSeen = Math.max(deepestSeen, depth);
    } else if (octet === colon) names += 1;
    else if (octet === closeBracket || octet === closeBrace) depth -= 1;
  }
  return { depth: deepestSeen, names };
}
