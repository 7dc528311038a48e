// The thread that hashes passwords: on its own, so that nothing else that is worked on aside keeps anybody from signing in.
import { hashSync, verifySync } from '@node-rs/argon2';
import { answerRequests } from '../../threads/answer-requests';
import type { PasswordRequest } from './passwords';

// OWASP's argon2id parameters: 19 MiB, two passes, one lane. 2 is argon2id (an ambient enum cannot be imported).
const parameters = { algorithm: 2, memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

answerRequests((request: PasswordRequest): string | boolean =>
  request.kind === 'hash' ? hashSync(request.password, parameters) : verifySync(request.hash, request.password),
);
