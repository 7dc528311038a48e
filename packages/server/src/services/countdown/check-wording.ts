import { readWording, type Channel, type Problem } from '@convite/core';

/** Everything wrong with a wording before it may be sent; a text message has no subject. */
export function checkWording({ subject, body }: { subject: string; body: string }, channel: Channel): Problem[] {
  const problems = [...readWording(body, 'body').problems];
  if (!body.trim()) problems.push({ code: 'required', path: 'body' });
  if (channel === 'email') {
    problems.push(...readWording(subject, 'subject').problems);
    if (!subject.trim()) problems.push({ code: 'required', path: 'subject' });
  }
  return problems;
}
