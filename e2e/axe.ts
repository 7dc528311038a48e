import type { Page } from '@playwright/test';
import axe, { type RunOptions } from 'axe-core';

/** What a frame inside a page is asked: it is no page of its own, with a title, headings and landmarks. */
const ofFrames: RunOptions = {
  runOnly: { type: 'rule', values: ['color-contrast', 'image-alt', 'link-name', 'link-in-text-block', 'list'] },
};

/**
 * What axe finds wrong with a page and the frames in it, each with the first place where. Asked in the page itself, for violations
 * alone: carrying all that is right out of it, to be summed up in a second page, took three times as long.
 */
export async function axeFinds(page: Page, options: RunOptions = {}): Promise<string[]> {
  const found: string[] = [];
  for (const frame of page.frames()) {
    const isPage = frame === page.mainFrame();
    if (!isPage && !(await frame.frameElement().then((one) => one.isVisible()))) continue;
    if (!(await frame.evaluate(() => 'axe' in window))) await frame.evaluate(axe.source);
    found.push(
      ...(await frame.evaluate(
        async (asked) => {
          const { violations } = await window.axe.run(document, {
            ...asked,
            iframes: false,
            resultTypes: ['violations'],
          });
          return violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html.slice(0, 160)}`);
        },
        isPage ? options : ofFrames,
      )),
    );
  }
  return found;
}

declare global {
  interface Window {
    axe: typeof axe;
  }
}
