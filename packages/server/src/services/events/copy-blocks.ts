import { escapeHtml, sayWhen, type EventFacts } from '@convite/core';

/** What a marketer copies into a newsletter that is made elsewhere. */
export interface CopyBlocks {
  /** Buttons that mail programs show: a table with inline styles. */
  readonly html: string;
  readonly text: string;
  /** The event's details as text. */
  readonly details: string;
}

const cell =
  'border:1px solid #4A2545;border-radius:4px;background:#4A2545;padding:10px 18px;font-family:Georgia,serif;font-size:16px';

export function writeCopyBlocks(
  facts: EventFacts,
  repeats: string,
  icsUrl: string,
  links: readonly { readonly name: string; readonly url: string }[],
  pageUrl: string,
): CopyBlocks {
  const all = [...links, { name: 'Calendar file', url: icsUrl }];
  const when = [sayWhen(facts, ''), repeats].filter(Boolean).join(' · ');
  const buttons = all.map(
    ({ name, url }) =>
      `<td style="${cell}"><a href="${escapeHtml(url)}" style="color:#FBF8F3;text-decoration:none">${escapeHtml(name)}</a></td>`,
  );
  return {
    html: `<p style="font-family:Georgia,serif;font-size:16px">Add “${escapeHtml(facts.title)}” to your calendar:</p>\n<table role="presentation" cellspacing="8" cellpadding="0" border="0"><tr>${buttons.join('')}</tr></table>`,
    text: [`Add “${facts.title}” to your calendar:`, ...all.map(({ name, url }) => `${name}: ${url}`)].join('\n'),
    // Where to join is told to guests alone.
    details: [facts.title, when, facts.venue || (facts.joinLink ? 'Online' : ''), facts.description, pageUrl]
      .filter(Boolean)
      .join('\n\n'),
  };
}
