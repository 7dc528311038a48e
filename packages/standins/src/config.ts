/** Where the simulated outside world stands, and how it reaches Convite, from the environment. */
export interface StandinsConfig {
  readonly host: string;
  readonly httpPort: number;
  readonly smtpPort: number;
  /** Convite's own SMTP receiver: where replies and bounces go. */
  readonly inboundHost: string;
  readonly inboundPort: number;
  readonly dataDir: string;
}

export function readConfig(env: NodeJS.ProcessEnv): StandinsConfig {
  const port = (name: string, fallback: number): number => {
    const value = Number(env[name] ?? fallback);
    if (!Number.isInteger(value) || value < 1 || value > 65535) throw new Error(`${name} must be a port number`);
    return value;
  };
  return {
    host: '127.0.0.1',
    httpPort: port('STANDINS_PORT', 4102),
    smtpPort: port('STANDINS_SMTP_PORT', 4126),
    inboundHost: env['INBOUND_HOST'] ?? '127.0.0.1',
    inboundPort: port('INBOUND_PORT', 4125),
    dataDir: env['STANDINS_DATA'] ?? '.data/standins',
  };
}
