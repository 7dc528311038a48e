import './jitless';
import * as z from 'zod';
import { findingCodes, type Finding, type FindingCode } from '@convite/core';

const finding = z.object({
  code: z.enum(findingCodes),
  path: z.enum(['subject', 'preheader', 'body']),
  facts: z.record(z.string(), z.union([z.string(), z.number()])).optional(),
});

/** A message as one person reads it, and what they would stumble over. */
export const shownMessage = z.object({
  channel: z.enum(['email', 'text']),
  /** The name that stands before it. */
  from: z.string(),
  subject: z.string(),
  /** The line beside the subject, as mail programs show it. */
  preheader: z.string(),
  /** Empty for a text message. */
  html: z.string(),
  text: z.string(),
  /** As it is handed to the mail server; of a text message, of its words. */
  octets: z.number(),
  /** What a part of a text message costs; null where the house has not said. */
  textPrice: z.object({ perPart: z.number(), currency: z.string() }).nullable(),
  findings: z.array(finding),
  /** What each field of it says to this person. */
  samples: z.record(z.string(), z.string()),
});
export type ShownMessage = z.infer<typeof shownMessage>;

type Facts = NonNullable<Finding['facts']>;

/** What was found, in words, with what to do about it. */
const findingWords: Readonly<Record<FindingCode, (facts: Facts) => string>> = {
  'long-subject': ({ characters }) =>
    `The subject has ${characters} characters. A desk shows about 60 of it, a phone about 40: say first what matters.`,
  'no-preheader': () => 'No line stands beside the subject: mail programs show how the message begins instead.',
  'too-large': ({ octets }) => `It has ${Math.round(Number(octets) / 1000)} kB. Mail programs cut what is over 100 kB.`,
  'empty-field': ({ field }) => `“${field}” says nothing here, and nothing stands in for it.`,
  'open-link': ({ address }) => `${address} is not encrypted: begin it with https:// where that answers.`,
  'plain-drifted': () => 'The plain text was written apart, and the message has been changed since: read it once more.',
  'other-language': ({ language }) =>
    `They read ${language}, which this is not written in: they get it in its first language.`,
  'avoided-word': ({ word }) => `“${word}” is on the house’s list of words to avoid.`,
  'other-time': ({ written, start, end }) =>
    `You wrote ${written}; the event starts ${start} and ends ${end}. The field event.time is always right.`,
  'unsaid-picture': () => 'A picture has no words: whoever does not see it learns nothing of it.',
  'no-way-out': () => 'It does not say how to stop these texts, such as “STOP ends this”.',
};

export const sayFinding = ({ code, facts = {} }: Finding): string => findingWords[code](facts);

/** Addresses that somebody typed into a message, asked whether they answer. */
export const askLinksRequest = z.object({ addresses: z.array(z.string().max(2000)).max(12) });
export const askedLinks = z.array(z.object({ address: z.string(), isGood: z.boolean(), said: z.string() }));
export type AskedLinks = z.infer<typeof askedLinks>;

export const keptPreview = z.object({
  person: z.object({ id: z.number(), name: z.string() }),
  /** Null where the house has no event to show it of. */
  event: z.object({ id: z.number(), title: z.string() }).nullable(),
  message: shownMessage,
});
export type KeptPreview = z.infer<typeof keptPreview>;
