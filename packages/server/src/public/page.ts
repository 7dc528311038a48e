import type { Response } from 'express';
import { escapeHtml, mapLink, readableOn, type EventFacts, type Manner } from '@convite/core';
import type { Context } from '../services/context';
import { housePictureUrl } from '../services/house-picture';
import { yourTimePlace } from './your-time';
import { houseManner } from '../services/sending/manner';

/** The house as its public pages show it. */
export interface PublicHouse {
  readonly organisation: string;
  readonly colour: string;
  /** Where the picture is; empty for none. */
  readonly picture: string;
  /** How it says days and times. */
  readonly manner: Manner;
}
const plainColour = '#4a2545';

export async function publicHouse(context: Pick<Context, 'store'>): Promise<PublicHouse> {
  const settings = await context.store.house.settings();
  return {
    organisation: settings.organisation,
    colour: settings.page.colour.toLowerCase(),
    picture: await housePictureUrl(context),
    manner: houseManner(settings),
  };
}

/** The frame of every public page: plain HTML that works without script, on a phone, in a second. */
export function writePage(title: string, house: PublicHouse | null, body: string, language = 'en'): string {
  const look = house && house.colour !== plainColour ? `?colour=${house.colour.slice(1)}` : '';
  const picture = house?.picture ? `<img src="${house.picture}" alt="" height="48">` : '';
  return `<!doctype html>
<html lang="${language}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)}</title>
<link rel="stylesheet" href="/public.css${look}">
<script src="/public.js" defer></script>
</head>
<body>
<header><p>${picture}${escapeHtml(house?.organisation ?? '')}</p></header>
<main>
${body}
</main>
</body>
</html>
`;
}

/** For an address that was cut off, reset or never made. */
export function sendNotThere(response: Response, house: PublicHouse): void {
  response
    .status(404)
    .send(
      writePage('Not found', house, '<h1>There is no such page</h1><p>The address may be cut off: copy all of it.</p>'),
    );
}

/** When and where, as a list. */
export function describeFacts(facts: EventFacts, when: string, mapPattern = ''): string {
  const map = mapLink(mapPattern, facts.venue);
  const where = `${escapeHtml(facts.venue)}${map && ` · <a href="${escapeHtml(map)}" rel="noopener">map</a>`}`;
  const row = (term: string, html: string): string => (html ? `<dt>${term}</dt><dd>${html}</dd>` : '');
  const join = facts.joinLink && `<a href="${escapeHtml(facts.joinLink)}">${escapeHtml(facts.joinLink)}</a>`;
  return `<dl>${row('When', escapeHtml(when))}${row('Where', facts.venue && where)}${row('Join', join)}</dl>${yourTimePlace(facts)}`;
}

/** Links that look like buttons. */
export const writeActions = (actions: readonly { readonly name: string; readonly url: string }[]): string =>
  `<ul class="actions">${actions.map(({ name, url }) => `<li><a href="${escapeHtml(url)}">${escapeHtml(name)}</a></li>`).join('')}</ul>`;

/** The styles of public pages in a colour, which is made lighter in the dark so that it can be read. */
export const publicStylesIn = (colour: string): string =>
  `${publicStyles}:root { --lead: ${colour}; }
@media (prefers-color-scheme: dark) { :root { --lead: ${readableOn(colour, '#1a1720')}; } }
`;

export const publicStyles = `
:root { color-scheme: light dark; --ground: #fbf8f3; --ink: #1d2433; --line: #e3dcd0; --lead: #4a2545; --quiet: #5a5f6b; }
@media (prefers-color-scheme: dark) { :root { --ground: #1a1720; --ink: #efe9df; --line: #3a3442; --lead: #d9b3d3; --quiet: #b3adba; } }
* { box-sizing: border-box; }
body { margin: 0; background: var(--ground); color: var(--ink); font: 18px/1.55 Georgia, 'Times New Roman', serif; }
header, main { max-width: 38rem; margin: 0 auto; padding: 0 1.25rem; }
header p { margin: 0; padding: 1.25rem 0 .75rem; border-bottom: 1px solid var(--line); color: var(--lead); letter-spacing: .04em; }
h1 { font-size: 1.9rem; line-height: 1.2; margin: 1.5rem 0 1rem; overflow-wrap: anywhere; }
dl { display: grid; grid-template-columns: 5.5rem 1fr; gap: .5rem 1rem; margin: 0 0 1.5rem; }
dt { color: var(--quiet); }
dd { margin: 0; overflow-wrap: anywhere; }
a { color: var(--lead); }
.actions { display: flex; flex-wrap: wrap; gap: .75rem; margin: 1.5rem 0; padding: 0; list-style: none; }
.actions a, button { display: inline-block; padding: .65rem 1.1rem; border: 1px solid var(--lead); border-radius: .3rem; background: transparent; color: var(--lead); font: inherit; text-decoration: none; cursor: pointer; }
.actions li:first-child a, button { background: var(--lead); color: var(--ground); }
.notice { border-left: 4px solid #c2402a; padding: .25rem 0 .25rem 1rem; margin: 0 0 1.25rem; }
.description { white-space: pre-line; }
.yours { margin: -1rem 0 1.5rem; color: #2b7a6b; font-weight: bold; }
@media (prefers-color-scheme: dark) { .yours { color: #6cc4b2; } }
h2 { font-size: 1.2rem; margin: 2rem 0 .5rem; }
.dates { padding-left: 1.2rem; }
.thanks { border-left: 4px solid #2b7a6b; padding: .25rem 0 .25rem 1rem; margin: 1.25rem 0 0; }
button[aria-pressed] { outline: 3px solid #2b7a6b; outline-offset: 2px; }
form.date { display: flex; flex-wrap: wrap; gap: .5rem 1rem; align-items: center; justify-content: space-between; padding: .6rem 0; border-bottom: 1px solid var(--line); }
input:not([type=hidden], [type=radio], [type=checkbox]), select { font: inherit; width: 100%; padding: .4rem .6rem; border: 1px solid var(--quiet); border-radius: .3rem; background: transparent; color: inherit; }
fieldset { margin: 0; padding: 0; border: 0; }
legend { padding: 0; color: var(--quiet); }
.agreeing { margin-top: 2rem; }
header img { height: 3rem; width: auto; margin-right: .75rem; vertical-align: middle; }
.choice { display: grid; grid-template-columns: 1.2rem minmax(0, 1fr) auto; gap: .25rem .6rem; align-items: baseline; padding: .45rem 0; border-bottom: 1px solid var(--line); }
input[type=radio], input[type=checkbox] { accent-color: var(--lead); }
.choice em { color: var(--quiet); }
@media (max-width: 22rem) { .choice em { grid-column: 2; } }
.unseen { position: absolute; left: -100vw; width: 1px; height: 1px; overflow: hidden; }
.small { font-size: .85em; color: var(--quiet); }
code { overflow-wrap: anywhere; font-size: .85em; }
pre { overflow-x: auto; max-width: 100%; padding: 8px 12px; border: 1px solid var(--line); border-radius: 4px; }
`;
