import { PNG } from 'pngjs';
import type { Page } from '@playwright/test';
import { expect, newWorkspace, openDemo, test } from './stack';
import { unzip } from '../apps/server/test/zips.js';

const svg = (body: string): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${body}</svg>`;
const file = (name: string, body: string): { name: string; mimeType: string; buffer: Buffer } => ({
  name,
  mimeType: 'image/svg+xml',
  buffer: Buffer.from(body.startsWith('<') ? svg(body) : body),
});

test('drawings become a set: brought in, told about, named, placed, released, and at the practice website', async ({
  page,
  stack,
  context,
}) => {
  await newWorkspace(page, stack, 'Orchard');
  await page.goto(`${stack.address}/foundry/icons`);
  await page.getByRole('button', { name: 'Begin a set' }).click();
  await page.getByLabel('Name of the family').fill('Orchard Icons');
  await expect(page.getByLabel('Prefix of its classes')).toHaveValue('orchard-');
  await page.getByRole('button', { name: 'Begin it' }).click();
  await expect(page.getByText('Drop SVG drawings here')).toBeVisible();
  await page
    .getByLabel('Bring in drawings')
    .setInputFiles([
      file('Apple Tree.svg', '<circle cx="12" cy="9" r="7"/><path d="M11 15h2v7h-2z"/>'),
      file('pear.svg', '<path d="M12 3c3 0 2 6 5 9s1 9-5 9-8-6-5-9 2-9 5-9z" fill="#a00"/><circle cx="12" cy="15" r="2" fill="#fff"/>'),
      file('letter.svg', 'Dear customer'),
    ]);
  await expect(page.getByText('letter.svg: This is no SVG')).toBeVisible();
  const sheet = page.getByRole('listbox', { name: 'Drawings' });
  await expect(sheet.getByRole('option')).toHaveCount(2);
  // With the keyboard alone: to the second, what it says, and a choice about its colors.
  await sheet.getByRole('option', { name: /^apple-tree/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('heading', { name: 'pear' })).toBeVisible();
  await expect(page.getByText(/It has 2 colors, and a plain font has one/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep the colors, with a plain shape beside them' }).click();
  await expect(page.getByText(/The colors stay where programs show colored fonts/)).toBeVisible();
  // A name that is taken is refused in words and nothing is changed; a free one is kept.
  await page.getByLabel('Name', { exact: true }).fill('apple-tree');
  await page.getByLabel('Name', { exact: true }).press('Enter');
  await expect(page.getByRole('alert')).toContainText('would be the class of two drawings');
  await page.getByLabel('Name', { exact: true }).fill('quince');
  await page.getByLabel('Name', { exact: true }).press('Enter');
  await expect(sheet.getByRole('option', { name: /^quince/ })).toBeVisible();
  // Steps on the board are taken back one by one; a removal is undone.
  await page.getByRole('button', { name: 'Turn left' }).click();
  await page.getByRole('button', { name: /^Take back\s*: Turned by 90°/ }).click();
  await expect(page.getByText('Turned by 90°')).toHaveCount(0);
  await page.getByRole('button', { name: 'Take it out of the set' }).click();
  await expect(sheet.getByRole('option')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(sheet.getByRole('option')).toHaveCount(2);

  await page.getByRole('button', { name: 'Releases' }).click();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Release 1' })).toBeVisible();
  await page.getByLabel(/The drawings are ours/).check();
  await page.getByRole('button', { name: 'Make release 1' }).click();
  await expect(page.getByText('Release 1 is made.')).toBeVisible({ timeout: 30_000 });
  const kit = page.getByRole('link', { name: /^The kit of release 1, style sheet and fonts/ });
  const download = page.waitForEvent('download');
  await kit.click();
  const { readFileSync } = await import('node:fs');
  const files = await unzip(readFileSync(await (await download).path()));
  // The page of the kit, as it lies on a disk: its fonts load, and its search finds.
  const shown = await context.newPage();
  await serve(shown, files);
  await shown.goto('https://kit.example/icons.html');
  await shown.evaluate(() => document.fonts.ready);
  expect(await shown.evaluate(() => [...document.fonts].map((f) => `${f.family.replace(/"/g, '')} ${f.status}`))).toEqual([
    'Orchard Icons loaded',
  ]);
  await shown.getByLabel('Find').fill('quin');
  await expect(shown.getByRole('status')).toHaveText('1 drawing');
});

/** Answers requests of a page with the files of a kit. */
const serve = (page: Page, files: Map<string, Buffer>): Promise<unknown> =>
  page.route('https://kit.example/**', (route) => {
    const path = decodeURIComponent(new URL(route.request().url()).pathname.slice(1));
    const body = files.get(path);
    return body
      ? route.fulfill({ body, contentType: TYPES[path.split('.').pop()!] ?? 'application/octet-stream' })
      : route.fulfill({ status: 404 });
  });
const TYPES: Record<string, string> = { html: 'text/html', css: 'text/css', svg: 'image/svg+xml', woff2: 'font/woff2' };

test('Chromium draws the icons of a kit like their drawings, at 24 and at 64 px', async ({ page, stack, context }) => {
  await openDemo(page, stack);
  const sets = (await (await page.request.get(`${stack.address}/api/icon-sets`)).json()) as { id: string }[];
  const { drawings } = (await (await page.request.get(`${stack.address}/api/icon-sets/${sets[0]!.id}`)).json()) as {
    drawings: { name: string; inking: string | null; source: string }[];
  };
  const files = await unzip(
    await (await page.request.get(`${stack.address}/api/icon-sets/${sets[0]!.id}/releases/1/kit?layout=flat`)).body(),
  );
  const css = files.get('icons.css')!.toString();
  const names = [...css.matchAll(/\.seed-([a-z-]+)::before/g)]
    .map((m) => m[1]!)
    .filter((n) => files.has(`svg/${n}.svg`) && drawings.some((d) => d.name === n) && n !== 'water' && n !== 'berry');
  expect(names.length).toBeGreaterThan(12);
  const shown = await context.newPage();
  await serve(shown, files);
  await shown.setViewportSize({ width: 800, height: 600 });
  for (const size of [24, 64]) {
    const cell = size + 8;
    const at = (i: number): string =>
      `font-family:Hollin Icons;position:absolute;left:${(i % 8) * cell}px;top:${Math.floor(i / 8) * cell}px;font-size:${size}px;width:${size}px;height:${size}px;line-height:1`;
    const body = (inner: (name: string, i: number) => string): string =>
      `<!doctype html><link rel="stylesheet" href="icons.css"><style>body{margin:0;background:#fff;color:#1b1916}</style>${names.map(inner).join('')}`;
    const ink = async (content: string): Promise<Float64Array> => {
      files.set('now.html', Buffer.from(content));
      await shown.goto('https://kit.example/now.html');
      await shown.evaluate(() => document.fonts.ready);
      await shown.waitForLoadState('networkidle');
      const { data, width, height } = PNG.sync.read(await shown.screenshot());
      return Float64Array.from({ length: width * height }, (_, i) => 1 - (data[4 * i]! + data[4 * i + 1]! + data[4 * i + 2]!) / 765);
    };
    const font = await ink(body((n, i) => `<span class="seed-icon seed-${n}" style="${at(i)}" aria-hidden="true"></span>`));
    const pictures = await ink(
      body((n, i) => {
        const source = drawings.find((d) => d.name === n)!.source;
        return `<img alt="" style="${at(i)}" src="data:image/svg+xml,${encodeURIComponent(source)}">`;
      }),
    );
    for (const [i, name] of names.entries()) {
      let [least, most] = [0, 0];
      for (let y = 0; y < cell; y++)
        for (let x = 0; x < cell; x++) {
          const k = (Math.floor(i / 8) * cell + y) * 800 + (i % 8) * cell + x;
          least += Math.min(font[k]!, pictures[k]!);
          most += Math.max(font[k]!, pictures[k]!);
        }
      expect([name, size, most > 5, least / most > (size === 24 ? 0.8 : 0.9)]).toEqual([name, size, true, true]);
    }
  }
});

test('the practice website shows the released set in its menu', async ({ page, stack, context }) => {
  await openDemo(page, stack);
  const places = (await (await page.request.get(`${stack.address}/api/places`)).json()) as {
    id: string;
    name: string;
    profileId: string;
    address: string;
  }[];
  const website = places.find((p) => p.profileId === 'website')!;
  const sets = (await (await page.request.get(`${stack.address}/api/icon-sets`)).json()) as { id: string }[];
  await page.goto(`${stack.address}/foundry/icons/${sets[0]!.id}?view=release`);
  await page.getByRole('link', { name: 'Put it at a place' }).first().click();
  await page.waitForURL(/places\/check/);
  await page.goto(`${page.url()}&places=${website.id}`);
  await page.getByLabel(/^What it is there/).selectOption('icons');
  await page.getByRole('button', { name: /^State this and put/ }).click();
  await expect(page.getByRole('heading', { name: /^It is on/ })).toBeVisible({ timeout: 30_000 });
  const shop = await context.newPage();
  await shop.goto(`${new URL(website.address).origin}/menu`);
  await shop.getByRole('group', { name: 'Visit' }).getByRole('radio', { name: 'sun', exact: false }).check();
  await shop.getByRole('group', { name: 'Visit' }).getByLabel('Size').fill('40');
  await shop.getByRole('button', { name: 'Keep the menu' }).click();
  await shop.goto(new URL(website.address).origin);
  await shop.evaluate(() => document.fonts.ready);
  const entry = shop.getByRole('link', { name: 'Visit' }).locator('.icon');
  await expect(entry).toHaveCSS('font-size', '40px');
  expect(
    await shop.evaluate(() => [...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family.replace(/"/g, ''))),
  ).toContain('Shop Icons');
  await shop.getByRole('link', { name: 'Visit' }).hover();
  await expect(entry).toHaveCSS('color', 'rgb(168, 39, 27)');
});
