import * as z from 'zod';
import { problemDetails, webhookBody } from '@convite/contract';
import { operations } from './operations';
import type { Operation } from './operation';

type Json = Record<string, unknown>;

/**
 * What programs may ask, as OpenAPI 3.1 describes it: made from the very schemas by which they are answered.
 * @param publicUrl where the house is reached
 */
export function writeOpenApi(publicUrl: string): Json {
  const schemas: Json = {};
  const paths: Record<string, Json> = {};
  for (const one of operations)
    paths[one.path] = {
      ...paths[one.path],
      [one.method]: describe(one, (schema, io) => schemaOf(schema, io, schemas)),
    };
  schemas['Problem'] = schemaOf(problemDetails, 'output', schemas);
  const webhook = { content: { 'application/json': { schema: schemaOf(webhookBody, 'output', schemas) } } };
  return {
    openapi: '3.1.0',
    info: {
      title: 'Convite for programs',
      version: '1',
      description:
        'Subscribers, lists, consents and people’s own times. Keys are made in Settings, each for some of it.',
    },
    servers: [{ url: `${publicUrl}/programs` }],
    security: [{ key: [] }],
    paths,
    webhooks: {
      happened: {
        post: {
          summary: 'Something happened that you asked to be told of',
          description:
            'Signed as RFC 9421 says; answer with any 2xx within ten seconds. What is not taken is posted again.',
          requestBody: webhook,
          responses: { '2XX': { description: 'Taken.' } },
        },
      },
    },
    components: { securitySchemes: { key: { type: 'http', scheme: 'bearer' } }, schemas },
  };
}

type SchemaOf = (schema: z.ZodType, io: 'input' | 'output') => Json;

function describe(
  { path, scope, summary, about, query, body, answer, takesKey, example }: Operation,
  of: SchemaOf,
): Json {
  const problem = {
    description: 'Refused, with the reason.',
    content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
  };
  return {
    summary,
    description: [about, `The key must be for \`${scope}\`.`].filter(Boolean).join(' '),
    parameters: [
      ...(path.includes('{id}')
        ? [{ name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } }]
        : []),
      ...(query === null ? [] : parametersOf(of(query, 'input'))),
      ...(takesKey
        ? [
            {
              name: 'Idempotency-Key',
              in: 'header',
              required: false,
              description:
                'Of your own, 8 to 80 letters, digits, - and _. Asked again with it within two days, it is done once.',
              schema: { type: 'string', pattern: '^[\\w-]{8,80}$' },
            },
          ]
        : []),
    ],
    ...(body !== null && {
      requestBody: {
        required: true,
        content: { 'application/json': { schema: of(body, 'input'), example: example.body } },
      },
    }),
    responses: {
      ...(answer === null
        ? { '204': { description: 'Done.' } }
        : {
            '200': {
              description: summary,
              content: { 'application/json': { schema: of(answer, 'output'), example: example.answer } },
            },
          }),
      '4XX': problem,
      '5XX': problem,
    },
  };
}

const shape = z.looseObject({
  properties: z.record(z.string(), z.looseObject({ description: z.string().optional() })).default({}),
  required: z.array(z.string()).default([]),
});

function parametersOf(schema: Json): Json[] {
  const { properties, required } = shape.parse(schema);
  return Object.entries(properties).map(([name, { description = '', ...one }]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    ...(description && { description }),
    schema: one,
  }));
}

const defined = z.looseObject({ $defs: z.record(z.string(), z.unknown()).default({}) });

/** Schemas with a name of their own stand once, among all. */
function schemaOf(schema: z.ZodType, io: 'input' | 'output', schemas: Json): Json {
  const text = JSON.stringify(z.toJSONSchema(schema, { target: 'draft-2020-12', io, unrepresentable: 'any' }));
  const {
    $defs,
    $schema: _,
    id: __,
    ...rest
  } = defined.parse(JSON.parse(text.replaceAll('#/$defs/', '#/components/schemas/')));
  for (const [name, one] of Object.entries($defs)) {
    const { id: ___, $schema: ____, ...kept } = z.looseObject({}).parse(one);
    schemas[name] = kept;
  }
  return rest;
}
