import './jitless';
import * as z from 'zod';
import { mergeFields, type Block, type FieldName, type Inline, type WordingDocument } from '@convite/core';

const isField = (name: string): name is FieldName => Object.hasOwn(mergeFields, name);

const inline = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text: z.string(), bold: z.boolean().optional(), link: z.string().optional() }),
  z.object({ kind: z.literal('field'), field: z.string().refine(isField), fallback: z.string() }),
]) satisfies z.ZodType<Inline>;
const line = z.array(inline).readonly();

const block = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('plain'), text: z.string() }),
  z.object({ kind: z.literal('quoted'), text: z.string() }),
  z.object({ kind: z.literal('heading'), line }),
  z.object({ kind: z.literal('paragraph'), line }),
  z.object({ kind: z.literal('list'), items: z.array(line).readonly() }),
  z.object({ kind: z.literal('button'), label: z.string(), address: inline }),
  z.object({
    kind: z.literal('entry'),
    title: z.string(),
    url: z.string(),
    about: z.string(),
    lead: z.string(),
  }),
]) satisfies z.ZodType<Block>;

/** A wording as it is stored, and frozen with what goes out. */
export const wordingDocument = z.object({
  subject: z.string(),
  blocks: z.array(block).readonly(),
}) satisfies z.ZodType<WordingDocument>;
