// How long each screen takes on the demonstration: until something is seen, and until it can be used. Each is opened afresh, its
// scripts not yet kept by the browser; and what is loaded first is weighed.
import { rmSync } from 'node:fs';
import { needProgram } from './tools/machine.mjs';
import { quickFolder } from './tools/quick-folder.mjs';

/** That it works, not how fast. */
const isTiny = process.env.BENCH_TINY === 'true';

/** @param at where the demonstration runs already; else it is started
 * @returns 1 when a screen takes longer than it may */
export async function benchScreens(base, at = null) {
  needProgram('chromium', 'chromium');
  const { chromium } = await import('@playwright/test');
  const { buildServer, buildWeb } = await import('./tools/build.mjs');
  const { portsFrom, startEnsemble } = await import('./tools/ensemble.mjs');
  const folder = quickFolder('.bench-screens');
  rmSync(folder, { recursive: true, force: true });
  await buildServer();
  await buildWeb();
  const ensemble = at
    ? { url: at, stop: () => undefined }
    : await startEnsemble({ folder, ports: portsFrom(base), secret: 'screens'.repeat(5) });
  let browser;
  try {
    browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-dev-shm-usage'],
    });
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    let script = 0;
    page.on('response', async (response) => {
      if (!/\.js$/.test(new URL(response.url()).pathname)) return;
      const { responseBodySize } = await response.request().sizes();
      script += responseBodySize;
    });
    await page.goto(`${ensemble.url}/sign-in`);
    await page.getByLabel('Email address').fill('owner@serradabruma.example');
    console.log(`first load: ${(script / 1000).toFixed(0)} kB of script (at most 180)`);
    let isSlow = script > 180_000;
    await page.getByLabel('Password').fill('under-the-stars');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('heading', { name: 'Call board' }).waitFor();
    const cdp = await context.newCDPSession(page);
    await cdp.send('Network.setCacheDisabled', { cacheDisabled: true });
    console.log('screen                          seen    usable   (ms, median of five; at most 200 and 1000)');
    let opened = 0;
    for (const path of screens) {
      const found = [];
      for (let round = 0; round < (isTiny ? 1 : 5); round += 1) found.push(await open(page, ensemble.url + path));
      const [seen, usable] = ['seen', 'usable'].map((what) => median(found.map((one) => one[what])));
      isSlow ||= seen > 200 || usable > 1000;
      if (Number.isFinite(usable)) opened += 1;
      console.log(
        `${path.padEnd(30)} ${String(seen).padStart(5)} ${String(usable).padStart(8)}${seen > 200 || usable > 1000 ? '  too slow' : ''}`,
      );
    }

    if (opened !== screens.length) console.error(`WRONG: ${opened} of ${screens.length} screens were opened.`);
    return (isSlow && !isTiny) || opened !== screens.length ? 1 : 0;
  } finally {
    await browser?.close();
    await ensemble.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

const screens = [
  '/',
  '/events',
  '/events/new',
  '/events/1/details',
  '/events/1/guests',
  '/events/1/invitation',
  '/events/1/countdown',
  '/events/8/changes',
  '/digests',
  '/wording/invitation',
  '/events/1/countdown?cue=1',
  '/releases',
  '/log',
  '/schedule',
  '/events/1/rehearsal',
  '/audience',
  '/audience?person=3',
  '/backstage',
  '/settings/house',
  '/settings/log',
];

/** From the wish to the first paint, and until the screen's heading stands and nothing is being read any more. */
async function open(page, url) {
  await page.goto(url, { waitUntil: 'commit' });
  await page.waitForFunction(
    () => document.querySelector('main h1') && !/^(Reading|Writing) the/m.test(document.body.innerText),
    undefined,
    { polling: 'raf' },
  );
  return page.evaluate(() => ({
    seen: Math.round(performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? 0),
    usable: Math.round(performance.now()),
  }));
}

const median = (numbers) => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)];
