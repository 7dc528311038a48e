import * as z from 'zod';

const port = z.coerce.number().int().min(1).max(65535);

/** Everything the processes take from the environment; docs/running-it.md lists it for people. */
const shape = z.object({
  DATABASE_URL: z.string().startsWith('mysql://'),
  HOST: z.string().default('127.0.0.1'),
  PORT: port.default(4100),
  /** The address people reach Convite at; links in messages begin with it. */
  PUBLIC_URL: z.url().transform((url) => url.replace(/\/+$/, '')),
  /** Key of the HMACs in links and of the session cookie. */
  SECRET: z.string().min(32),
  SMTP_URL: z.string().regex(/^smtps?:\/\//),
  /** How many connections a worker keeps to the mail server. */
  SMTP_CONNECTIONS: z.coerce.number().int().min(1).max(50).default(6),
  DKIM_DOMAIN: z.string().optional(),
  DKIM_SELECTOR: z.string().optional(),
  DKIM_PRIVATE_KEY: z.string().optional(),
  /** Where replies and bounces come in: the domain of those addresses, and the port of our own SMTP receiver. */
  MAIL_DOMAIN: z.string().min(3),
  INBOUND_HOST: z.string().default('127.0.0.1'),
  INBOUND_PORT: port.default(4125),
  TEXT_GATEWAY_URL: z.url(),
  TEXT_GATEWAY_KEY: z.string().default(''),
  /** The stand-ins' control address. Set for demonstration and test only: it switches Backstage on. */
  BACKSTAGE_URL: z.url().optional(),
  WEB_DIR: z.string().default('dist/web'),
  TRUST_PROXY: z.coerce.number().int().min(0).max(10).default(0),
  COOKIE_SECURE: z
    .enum(['true', 'false'])
    .default('true')
    .transform((text) => text === 'true'),
  /** How long a worker's claims outlive its last heartbeat. */
  LEASE_SECONDS: z.coerce.number().min(1).max(600).default(15),
  LOG_LEVEL: z.enum(['fatal', 'error', 'warn', 'info', 'debug', 'silent']).default('info'),
});

export type Config = Readonly<z.infer<typeof shape>>;

/**
 * Reads the configuration once, at start.
 * @throws Error naming every variable that is missing or wrong
 */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const read = shape.safeParse(env);
  if (read.success) return Object.freeze(read.data);
  const lines = read.error.issues.map((issue) => `  ${issue.path.join('.')}: ${issue.message}`);
  throw new Error(`The configuration cannot be used:\n${lines.join('\n')}`);
}
