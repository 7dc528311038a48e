import type { Request } from 'express';
import * as z from 'zod';
import type { ProgramScope } from '@convite/contract';
import type { Actor, Context } from '../../services/context';
import type { KnownProgram } from '../../store/api-keys';

/** Something that a program may ask, as its documentation says it and as it is answered: the same lines are both. */
export interface Operation {
  readonly method: 'get' | 'post' | 'delete';
  /** With `{id}` for what the address names. */
  readonly path: string;
  readonly scope: ProgramScope;
  readonly summary: string;
  readonly about: string;
  readonly query: z.ZodType | null;
  readonly body: z.ZodType | null;
  /** Null where nothing is answered. */
  readonly answer: z.ZodType | null;
  /** Asked again with the same Idempotency-Key it is done once. */
  readonly takesKey: boolean;
  readonly example: Example;
  handle(context: Context, request: Request, asked: Asked): Promise<unknown>;
}

/** Shown in the documentation, and run in its spec. */
export interface Example {
  readonly path: string;
  readonly body?: unknown;
  readonly answer: unknown;
}

/** Who asks, and by which key the wish is known when it comes twice. */
export interface Asked {
  readonly program: KnownProgram;
  readonly actor: Actor;
  readonly key: string | null;
}

/** Where nothing is asked beside the address. */
export const nothing = z.unknown();

interface Spec<Q extends z.ZodType, B extends z.ZodType> extends Omit<
  Operation,
  'query' | 'body' | 'takesKey' | 'about' | 'handle'
> {
  readonly query: Q;
  readonly body: B;
  readonly takesKey?: boolean;
  readonly about?: string;
  run(
    context: Context,
    given: { readonly id: number; readonly query: z.output<Q>; readonly body: z.output<B> },
    asked: Asked,
  ): Promise<unknown>;
}

const id = z.coerce.number().int().positive();

/** What is asked is parsed before it is answered; what does not fit is refused with its place. */
export function operation<Q extends z.ZodType, B extends z.ZodType>({
  query,
  body,
  takesKey = false,
  about = '',
  run,
  ...rest
}: Spec<Q, B>): Operation {
  return {
    ...rest,
    about,
    takesKey,
    query: query instanceof z.ZodUnknown ? null : query,
    body: body instanceof z.ZodUnknown ? null : body,
    handle: async (context, request, asked) =>
      run(
        context,
        {
          id: rest.path.includes('{id}') ? id.parse(request.params['id']) : 0,
          query: query.parse(request.query),
          body: body.parse(request.body),
        },
        asked,
      ),
  };
}
