/** What the outside world does wrong at the moment, as switched on in Backstage. */
export const mailFaults = ['none', 'slow', 'refuse', 'defer', 'bounce', 'lose'] as const;
export const textFaults = ['none', 'slow', 'refuse', 'lose'] as const;

export interface Faults {
  mail: (typeof mailFaults)[number];
  text: (typeof textFaults)[number];
}

export const slowMs = 2000;
export const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Takes over what of a request body is a known fault. */
export function setFaults(faults: Faults, body: unknown): void {
  if (typeof body !== 'object' || body === null) return;
  const mail = mailFaults.find((fault) => 'mail' in body && body.mail === fault);
  const text = textFaults.find((fault) => 'text' in body && body.text === fault);
  if (mail) faults.mail = mail;
  if (text) faults.text = text;
}
