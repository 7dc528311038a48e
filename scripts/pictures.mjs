#!/usr/bin/env node
// `npm run pictures`: retakes docs/screenshots from a fresh demonstration. PICTURES_URL looks at a running one instead.
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { needModules, needProgram, root } from './tools/machine.mjs';

needProgram('chromium', 'chromium');
needModules();
const { chromium } = await import('@playwright/test');

const folder = join(root, '.test/pictures');
const out = process.env.PICTURES_OUT ?? join(root, 'docs/screenshots');
const only = process.argv[2];
mkdirSync(out, { recursive: true });
const ensemble = process.env.PICTURES_URL ? null : await freshDemo();
const url = process.env.PICTURES_URL ?? ensemble.url;

/** What each picture shows: a name, where it is, and what to do there first. */
const views = [
  ['call-board', '/'],
  ['call-board-phone', '/', undefined, { width: 390, height: 844 }],
  ['events', '/events'],
  ['event-details', '/events/1/details'],
  ['event-guests', '/events/6/guests'],
  ['event-invitation', '/events/1/invitation'],
  ['new-event', '/events/new', fillNewEvent],
  ['send', '/events/new', goOnToSending],
  [
    'event-countdown',
    '/events/1/countdown',
    (page) => page.getByRole('button', { name: 'Tomorrow', exact: true }).click(),
  ],
  ['event-changes', '/events/8/changes'],
  ['digests', '/digests', (page) => page.getByRole('button', { name: 'Preview the next issues' }).click()],
  ['audience', '/audience'],
  ['segments', '/audience/segments?segment=1'],
  ['contact-pressure', '/audience/pressure', (page) => page.getByRole('button', { name: 'Look back' }).click()],
  ['subscriber', '/audience', (page) => page.locator('cv-table button.link').nth(3).click()],
  ['wording', '/wording/own-clear-night'],
  ['backstage', '/backstage', openMailbox],
  ['settings', '/settings/look'],
  ['event-page', '/e/demo01'],
];

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage'],
});
const page = await browser.newPage({
  viewport: { width: 1280, height: 800 },
  locale: 'en-GB',
  reducedMotion: 'reduce',
  colorScheme: process.env.PICTURES_DARK ? 'dark' : 'light',
});
const complaints = new Set();
page.on('console', (message) => message.type() === 'error' && complaints.add(message.text().slice(0, 200)));
for (const [name, path, prepare, size] of views) {
  if (name === 'call-board') await signIn();
  if (only && only !== name) continue;
  await page.setViewportSize(size ?? { width: 1280, height: 800 });
  await page.goto(url + path);
  await settle();
  if (prepare) await prepare(page);
  await settle();
  await page.screenshot({ path: join(out, `${name}.png`) });
  console.log(name);
}
await browser.close();
for (const complaint of [...complaints].slice(0, 5)) console.log('console:', complaint);
await ensemble?.stop();

async function signIn() {
  await page.goto(`${url}/sign-in`);
  await page.getByLabel('Email address').fill('owner@serradabruma.example');
  await page.getByLabel('Password').fill('under-the-stars');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('heading', { name: 'Call board' }).waitFor();
}

async function settle() {
  await page.waitForTimeout(900);
  await page.waitForFunction(() => document.fonts.status === 'loaded');
}

/** Lets cues fire until there is mail to look at, and opens one. */
async function openMailbox(it) {
  const mail = it.locator('.messages button').first();
  // The next one may be of texts alone.
  for (let cue = 0; ensemble && cue < 5 && !(await mail.isVisible()); cue += 1) {
    await it.getByRole('button', { name: 'To the next cue' }).click();
    await mail.waitFor({ timeout: 10_000 }).catch(() => undefined);
  }
  await mail.click({ timeout: 15_000 });
}

async function fillNewEvent(it) {
  await it.getByLabel('Title').fill('Walk under the Milky Way');
  await it.getByLabel('Starts').fill('fri 21:00');
  await it.getByLabel('Venue').fill('North gate, Serra da Bruma');
  const people = Array.from({ length: 100 }, (_, n) => `Walker ${n + 1} <walker${n + 1}@walk.example>`);
  await it.getByLabel(/aste addresses/).fill(people.join('\n'));
}

/** Everything in one look, before anybody gets it. */
async function goOnToSending(it) {
  if ((await it.getByLabel('Title').inputValue()) === '') await fillNewEvent(it);
  await it.getByLabel('How they agreed to hear from you').fill('asked at the gate');
  await it.getByRole('button', { name: 'Go on to sending' }).click();
  await it.getByText('all kept').waitFor();
}

async function freshDemo() {
  const { buildServer, buildWeb } = await import('./tools/build.mjs');
  const { portsFrom, startEnsemble } = await import('./tools/ensemble.mjs');
  rmSync(folder, { recursive: true, force: true });
  await buildServer();
  await buildWeb();
  return startEnsemble({ folder, ports: portsFrom(4300), secret: 'pictures'.repeat(5) });
}
