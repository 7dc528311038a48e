import { expect, test, type Browser, type Page } from '@playwright/test';
import { axeFinds } from './axe';
import { signIn } from './stage-door';

const screens = [
  '/',
  '/events',
  '/events/new',
  '/events/import',
  '/events/1/details',
  '/events/5/details',
  '/events/1/guests',
  '/events/7/guests',
  '/events/6/guests',
  '/events/1/invitation',
  '/events/1/countdown',
  '/events/1/countdown?cue=1',
  '/events/8/changes',
  '/digests',
  '/digests?digest=1',
  '/audience',
  '/audience/add',
  '/audience/segments?segment=1',
  '/audience/forms?form=new',
  '/audience/fields',
  '/audience/pressure',
  '/docs/api',
  '/audience?person=3',
  '/audience?about=1',
  '/wording',
  '/wording/pictures',
  '/wording/tomorrow',
  '/wording/tomorrowText',
  '/backstage',
  '/releases',
  '/log',
  '/schedule',
  '/events/1/rehearsal',
  '/events/1/run-through',
  '/kit',
  ...['house', 'look', 'senders', 'other-senders', 'calendars', 'signing-in', 'team', 'programs', 'links', 'log'].map(
    (one) => `/settings/${one}`,
  ),
];

// Pages are looked at hundreds of times: writing each of them down would take longer than looking.
test.use({ trace: 'off' });

type Scheme = 'light' | 'dark';

/** Where most stands beside each other, or a panel is open: looked at at every width in both themes. */
const dense: readonly string[] = [
  '/',
  '/events/new',
  '/events/1/details',
  '/events/1/guests',
  '/events/1/countdown?cue=1',
  '/audience?person=3',
  '/wording/tomorrow',
  '/backstage',
];

/** Made of the same pieces as others: in the dark, where colours alone are asked about, those stand for them. */
const likeOthers: readonly string[] = [
  '/events/5/details',
  '/events/7/guests',
  '/events/6/guests',
  '/digests?digest=1',
  '/wording/tomorrowText',
  '/docs/api',
  ...['senders', 'other-senders', 'calendars', 'signing-in', 'team'].map((one) => `/settings/${one}`),
];

/** Other sides of a screen, by what is pressed for them. */
const views: Readonly<Record<string, readonly string[]>> = {
  '/': ['side by side'],
  '/events/1/invitation': ['email', 'raw and checks', 'links'],
  '/events/1/rehearsal': ['everybody'],
};

/** What follows the width of a screen is drawn by then. */
const twoFrames = 'new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))';

/** What a narrower screen can break: the rest of a page is the same at every width. */
const ofLayout: Readonly<Record<number, readonly string[]>> = {
  820: ['target-size', 'scrollable-region-focusable'],
  390: ['target-size', 'scrollable-region-focusable'],
};

/** Dark and light differ in their colours alone: the dark screens are looked at for contrast. */
async function lookAt(page: Page, what: string, scheme: Scheme, width = 1280, isDense = false): Promise<void> {
  const layout = ofLayout[width];
  // What stands on what is another thing on a phone where most stands beside each other.
  const rules = scheme === 'dark' ? ['color-contrast'] : layout && isDense ? [...layout, 'color-contrast'] : layout;
  const found = await axeFinds(page, {
    runOnly: rules
      ? { type: 'rule', values: [...rules] }
      : { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] },
  });
  expect.soft(found, `${scheme} ${what}`).toEqual([]);
}

/** Goes from screen to screen. @returns what was logged as an error on the way */
async function goThrough(browser: Browser, scheme: Scheme): Promise<string[]> {
  const context = await browser.newContext({ colorScheme: scheme });
  const page = await context.newPage();
  const complaints: string[] = [];
  page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
  await page.addInitScript(() =>
    document.addEventListener('securitypolicyviolation', (event) =>
      console.error(`policy: ${event.violatedDirective}`),
    ),
  );
  await signIn(page, 'owner');
  for (const path of screens) {
    if (scheme === 'dark' && likeOthers.includes(path)) continue;
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    await expect(page.getByText(/^(Reading|Writing) the/)).toHaveCount(0);
    if (path.endsWith('1/guests')) {
      await page.getByRole('button', { name: 'Invite people' }).click();
      await page.getByRole('checkbox', { name: 'Pick', exact: true }).first().check();
    }
    // 640 is what a screen of 1280 has at 200 %. Colours are the same at every width, but not what stands on what.
    const isDense = dense.includes(path);
    for (const width of scheme === 'light' ? [1280, 820, 390, 640, 1680] : isDense ? [1280, 390] : [1280]) {
      await page.setViewportSize({ width, height: 844 });
      await page.evaluate(twoFrames);
      const wide = await page.evaluate('document.documentElement.scrollWidth');
      expect.soft(wide, `${path} at ${width}`).toBeLessThanOrEqual(width);
      const isLookedAt = width === 1280 || width === 390 || (width === 820 && isDense);
      if (isLookedAt) await lookAt(page, `${path} at ${width}`, scheme, width, isDense);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
    for (const view of views[path] ?? []) {
      await page.getByRole('radio', { name: view, exact: true }).click();
      if (view === 'links') await page.getByRole('button', { name: 'Test', exact: true }).first().click();
      await page.evaluate(twoFrames);
      await lookAt(page, `${path} ${view}`, scheme);
    }
  }
  await context.close();
  return complaints;
}

test('every screen in light and dark, at a desk, on a tablet and a phone: axe finds nothing, nothing is wider than it is, the content policy is kept, nothing is logged as an error', async ({
  browser,
}) => {
  // Both at once, for two cores; a busy machine takes ten minutes for them.
  test.setTimeout(900_000);
  const complaints = await Promise.all([goThrough(browser, 'light'), goThrough(browser, 'dark')]);
  expect(complaints).toEqual([[], []]);
});

test('the finder and the keys open by keys alone', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'Call board' })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('find an event');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('/');
  await expect(page.getByRole('combobox', { name: 'Find or do' })).toBeFocused();
  await page.keyboard.type('eclipse');
  await expect(page.getByRole('option', { name: /Lunar Eclipse Watch/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Lunar Eclipse Watch' })).toBeVisible();
});

test('in forced colours, and with motion reduced, every state is still told apart', async ({ browser }) => {
  const context = await browser.newContext({ forcedColors: 'active', reducedMotion: 'reduce' });
  const page = await context.newPage();
  await signIn(page, 'owner');
  for (const path of ['/', '/events', '/events/1/countdown', '/events/new']) {
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    // What is drawn is drawn in a colour of the system: nothing of ours is left to stand on its own.
    const invisible = await page.evaluate(() =>
      Array.from(document.querySelectorAll('button, a, input'))
        .filter((one) => one.checkVisibility())
        .filter((one) => {
          const { color, backgroundColor } = getComputedStyle(one);
          return color === backgroundColor;
        })
        .map((one) => one.outerHTML.slice(0, 120)),
    );
    expect(invisible).toEqual([]);
  }
  await page.goto('/');
  for (const state of ['set', 'draft'])
    await expect(page.locator('cv-state', { hasText: state }).first().locator('svg')).toBeVisible();
  await context.close();
});

test('public pages: axe finds nothing, and they work without script', async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: true });
  const page = await context.newPage();
  for (const path of ['/e/demo05', '/e/demo01']) {
    await page.goto(path);
    expect(await axeFinds(page)).toEqual([]);
  }
  const plain = await (
    await browser.newContext({ javaScriptEnabled: false, viewport: { width: 360, height: 640 } })
  ).newPage();
  await plain.goto('/e/demo05');
  await expect(plain.getByRole('link', { name: /Calendar file/ })).toBeVisible();
  expect(await plain.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(360);
});

test('a viewer looks, and finds no button that would be refused', async ({ page }) => {
  await signIn(page, 'viewer');
  await page.goto('/events/1/countdown');
  await expect(page.getByRole('heading', { name: 'Cues' })).toBeVisible();
  for (const name of ['Add a cue', 'Hold', 'Send now']) await expect(page.getByRole('button', { name })).toHaveCount(0);
  await page.goto('/settings');
  await expect(page.getByLabel('Name', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save the settings' })).toHaveCount(0);
});

test('the keyboard reaches the areas and signs out', async ({ page }) => {
  await signIn(page, 'marketer');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to the content' })).toBeFocused();
  for (
    let press = 0;
    press < 12 &&
    !(await page.getByRole('link', { name: 'Events' }).evaluate((link) => link === document.activeElement));
    press += 1
  )
    await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Events' })).toBeVisible();
  await page.getByRole('button', { name: 'Sign out' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.goto('/events');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('a pattern that breaks links is refused where it is typed, and nothing typed is lost', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto('/settings/calendars');
  const pattern = page.getByLabel('Pattern').first();
  await pattern.fill('https://calendar.example/add{?title');
  await expect(page.getByText(/cannot be read at character 29/)).toBeVisible();
  await page.getByRole('button', { name: 'Save the settings' }).click();
  await expect(page.getByText(/Some of this cannot be used yet/)).toBeVisible();
  await expect(pattern).toHaveValue('https://calendar.example/add{?title');
});
