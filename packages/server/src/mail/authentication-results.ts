/** One method's verdict, with what it was about, such as `header.from`. Names are lower case. */
export interface MethodResult {
  readonly method: string;
  readonly result: string;
  readonly properties: ReadonlyMap<string, string>;
}

type Token = { readonly kind: 'word' | 'quoted' | '=' | ';'; readonly text: string; readonly isAdjacent: boolean };

/**
 * Reads the value of an `Authentication-Results` field by its grammar (RFC 8601 §2.2): comments and quoted strings hold nothing
 * but text, so that what a stranger wrote there is no verdict.
 * @param value unfolded
 * @returns null for what breaks the grammar: such a field says nothing
 * @example readAuthenticationResults('mx.example; spf=pass smtp.mailfrom=a.example')?.results[0]?.result //=> 'pass'
 */
export function readAuthenticationResults(
  value: string,
): { readonly authservId: string; readonly results: readonly MethodResult[] } | null {
  const tokens = tokensOf(value);
  if (!tokens) return null;
  const [head = [], ...parts] = splitAt(tokens, ';');
  const [authservId, version, ...more] = head;
  if (!authservId || more.length || [authservId, version].some((one) => one?.kind === '=')) return null;
  // A trailing `;` is common, and says nothing.
  const said = parts.filter((part, at) => part.length > 0 || at < parts.length - 1);
  if (said.length === 1 && said[0]?.length === 1 && said[0][0]?.text.toLowerCase() === 'none')
    return { authservId: authservId.text, results: [] };
  const results = said.map(resultOf);
  return results.every((one) => one !== null) ? { authservId: authservId.text, results } : null;
}

/** `method[/version]=result`, then `reason=…` and properties, in any order. */
function resultOf(tokens: readonly Token[]): MethodResult | null {
  const pairs: { key: string; value: string }[] = [];
  for (let at = 0; at < tokens.length;) {
    const equalsAt = tokens.findIndex(({ kind }, index) => index > at && kind === '=');
    const [value, next] = [tokens[equalsAt + 1], tokens[equalsAt + 2]];
    const key = keyOf(tokens.slice(at, equalsAt));
    if (equalsAt < 0 || key === null || (value?.kind !== 'word' && value?.kind !== 'quoted')) return null;
    // `"local part"@domain`: the quotes end, the address goes on.
    const goesOn = value.kind === 'quoted' && next?.kind === 'word' && next.isAdjacent;
    pairs.push({ key, value: value.text + (goesOn ? next.text : '') });
    at = equalsAt + (goesOn ? 3 : 2);
  }
  const [first, ...rest] = pairs;
  if (!first || first.key.includes('.')) return null;
  return {
    method: first.key.split('/', 1)[0] ?? '',
    result: first.value.toLowerCase(),
    properties: new Map(rest.filter(({ key }) => key.includes('.')).map(({ key, value }) => [key, value])),
  };
}

/** `dkim`, `dkim/1`, `header.d`; there may be blanks and comments about the dot and the stroke. Null for anything else. */
function keyOf(tokens: readonly Token[]): string | null {
  const isJoined = tokens.every(
    ({ kind, text }, at) =>
      kind === 'word' && (at === 0 || /^[./]/.test(text) || /[./]$/.test(tokens[at - 1]?.text ?? '')),
  );
  const key = tokens.map(({ text }) => text).join('');
  return isJoined && /^[\w-]+(?:\/\d+|(?:\.[\w-]+)+)?$/.test(key) ? key.toLowerCase() : null;
}

function splitAt(tokens: readonly Token[], kind: ';'): Token[][] {
  const parts: Token[][] = [[]];
  for (const token of tokens)
    if (token.kind === kind) parts.push([]);
    else parts.at(-1)?.push(token);
  return parts;
}

/** Words, quoted strings and marks, without comments (RFC 5322 §3.2.2, §3.2.4); null where a quote or a comment never ends. */
function tokensOf(value: string): Token[] | null {
  const tokens: Token[] = [];
  let at = 0;
  let isAdjacent = false;
  while (at < value.length) {
    const character = value[at] ?? '';
    if (/\s/.test(character)) {
      at += 1;
      isAdjacent = false;
    } else if (character === '(') {
      const end = endOfComment(value, at);
      if (end === null) return null;
      at = end;
      isAdjacent = false;
    } else if (character === '"') {
      const [whole, text] = /^"((?:[^"\\]|\\[^])*)"/.exec(value.slice(at)) ?? [];
      if (whole === undefined || text === undefined) return null;
      tokens.push({ kind: 'quoted', text: text.replace(/\\([^])/g, '$1'), isAdjacent });
      at += whole.length;
      isAdjacent = true;
    } else if (character === ';' || character === '=') {
      tokens.push({ kind: character, text: character, isAdjacent });
      at += 1;
      isAdjacent = true;
    } else {
      const [word = ''] = /^[^\s();"=]+/.exec(value.slice(at)) ?? [];
      if (word === '') return null;
      // After the first `=` of a pair more of them belong to the value, as in an address of VERP or SRS.
      const before = tokens.at(-1);
      const isValue = before?.kind === '=';
      const [long = word] = isValue ? (/^[^\s();"]+/.exec(value.slice(at)) ?? []) : [];
      tokens.push({ kind: 'word', text: long, isAdjacent });
      at += long.length;
      isAdjacent = true;
    }
  }
  return tokens;
}

/** Just behind a comment that begins here, with those inside it; null where it never ends. */
function endOfComment(value: string, from: number): number | null {
  let depth = 0;
  for (let at = from; at < value.length; at += 1) {
    const character = value[at];
    if (character === '\\') at += 1;
    else if (character === '(') depth += 1;
    else if (character === ')') {
      depth -= 1;
      if (depth === 0) return at + 1;
    }
  }
  return null;
}
