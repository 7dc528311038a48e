import type { Request } from 'express';
import * as z from 'zod';

const id = z.coerce.number().int().positive();

/** The number in a route such as `/events/:id`. */
export const idOf = (request: Request, name = 'id'): number => id.parse(request.params[name]);

/** An optional number in the query string; null when it is absent. */
export const optionalId = (value: unknown): number | null => id.nullable().parse(value ?? null);
