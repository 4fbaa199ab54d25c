import { launch } from 'puppeteer-core';
import { expect, test } from './stack';

// Another engine than the one all other specs run in, over WebDriver BiDi.
test('a main view in Firefox: the demo opens, lines are set live, and the content policy has nothing to refuse', async ({ stack }) => {
  const browser = await launch({ browser: 'firefox', executablePath: '/usr/bin/firefox-esr', headless: true });
  try {
    const page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const told: string[] = [];
    page.on('console', (m) => (m.type() === 'error' || m.type() === 'warn') && told.push(m.text()));
    page.on('pageerror', (e) => told.push(String(e)));
    await page.goto(stack.address);
    const open = await page.waitForSelector('::-p-text(Open the demo)');
    await open!.click();
    await page.waitForFunction(() => location.pathname === '/desk');
    await page.goto(`${stack.address}/library?text=%C5%81ubin`);
    await page.waitForFunction(() => document.querySelectorAll('[data-live=ready]').length > 5);
    // Set in the face itself: the browser holds a loaded face under the name that the line asks for.
    const set = await page.evaluate(() => {
      const line = document.querySelector<HTMLElement>('[data-live=ready]')!;
      return document.fonts.check(`20px ${line.style.fontFamily}`, line.textContent);
    });
    expect(set).toBe(true);
    expect(told.filter((t) => /Content.Security|blocked|eval|error/i.test(t))).toEqual([]);
  } finally {
    await browser.close();
  }
});
