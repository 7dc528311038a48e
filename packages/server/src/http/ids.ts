import type { Request } from 'express';
import * as z from 'zod';

const id = z.coerce.number().int().positive();

/** The number in a route such as `/events/:id`. */
export const idOf = (request: Request, name = 'id'): number => id.parse(request.params[name]);

/** An optional number in the query string; null when it is absent. */
export const optionalId = (value: unknown): number | null => id.nullable().parse(value ?? null);

const key = z
  .string()
  .regex(/^[\w-]{8,80}$/)
  .nullable();

/** The key by which the same request is known when it comes twice (Idempotency-Key); null when there is none. */
export const requestKeyOf = (request: Request): string | null => key.parse(request.get('idempotency-key') ?? null);
