import { chromium } from '@playwright/test';
const [, , plan] = process.argv;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const { default: steps } = await import(plan);
for (const { name, width = 1280, height = 800, go } of steps) {
  const page = await browser.newPage({ viewport: { width, height } });
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const errors = [];
  page.on('pageerror', (e) => errors.push(String(e)));
  page.on('console', (m) => m.type() === 'error' && errors.push(m.text()));
  await page.goto('http://127.0.0.1:5300/');
  await page.getByLabel('Email address').fill('owner@serradabruma.example');
  await page.getByLabel('Password').fill('under-the-stars');
  await page.keyboard.press('Enter');
  await page.waitForTimeout(1500);
  await go(page);
  await page.waitForTimeout(700);
  await page.screenshot({ path: `/tmp/shots/${name}.png` });
  if (errors.length) console.log(name, errors.slice(0, 4));
  await page.close();
}
await browser.close();
