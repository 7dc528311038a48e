import { pino, stdSerializers, type Logger, type SerializedError } from 'pino';

/**
 * The log of a process. What was thrown is written with its message and stack; cookies, tokens, keys and what is known of
 * people are not: neither in headers, nor in addresses of pages, nor in the words of a database's refusal.
 */
export const openLog = (name: string, level: string): Logger =>
  pino({
    name,
    level,
    serializers,
    redact: { paths: ['*.password', '*.secret', '*.token', '*.cookie', '*.authorization'], censor: '<redacted>' },
  });

/** Text without addresses of people, telephone numbers, and tokens of ours. */
export function redact(text: unknown): string {
  return String(text)
    .replace(/[^\s@<>"'`(),;:=]+@[^\s@<>"'`(),;]+/g, '<address>')
    .replace(/\+\d{7,15}\b/g, '<number>')
    .replace(/\bcv_[\w-]{10,}/g, '<key>')
    .replace(/\/(r|c|i|my|p|a|j|h|s|l|k|o|opt-out|gateway|feed\/(?:person|team))\/[\w.-]{8,}/g, '/$1/<token>')
    .replace(/\b(search|email|after)=[^&\s]*/g, '$1=<redacted>');
}

/** A statement is kept, the values in it are not: the driver writes them into its message. */
function serializeError(thrown: unknown): SerializedError | string {
  if (!(thrown instanceof Error)) return redact(thrown);
  const { type, message, stack, code, errno, sqlMessage } = {
    code: '',
    errno: '',
    sqlMessage: '',
    ...stdSerializers.err(thrown),
  };
  const said = sqlMessage ? String(sqlMessage).replace(/'[^']*'/g, "'…'") : message;
  return {
    type,
    message: redact(said),
    stack: redact(stack.replace(message, said)),
    ...(code && { code }),
    ...(errno && { errno }),
  } as SerializedError;
}

interface Asked {
  readonly id?: unknown;
  readonly method?: string;
  readonly originalUrl?: string;
  readonly url?: string;
  readonly socket?: { readonly remoteAddress?: string };
}

function serializeRequest({ id, method, originalUrl, url = '', socket }: Asked): object {
  return { id, method, url: redact(originalUrl ?? url), remoteAddress: socket?.remoteAddress };
}

/** Also for the request logger, which has its own otherwise: those write every header down. */
export const serializers = {
  error: serializeError,
  err: serializeError,
  url: redact,
  req: serializeRequest,
  res: ({ statusCode }: { readonly statusCode?: number }): object => ({ statusCode }),
};
