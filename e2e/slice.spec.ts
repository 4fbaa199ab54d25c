import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, openDemo, test } from './stack';

/** Share of ink that two black-on-white pictures have in common, each cropped to its ink: 1 when they are the same. */
async function inkInCommon(page: Page, a: Buffer, b: Buffer): Promise<number> {
  return page.evaluate(
    async ([first, second]) => {
      const read = async (base64: string) => {
        const image = await createImageBitmap(new Blob([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], { type: 'image/png' }));
        const canvas = new OffscreenCanvas(image.width, image.height);
        const context = canvas.getContext('2d')!;
        context.drawImage(image, 0, 0);
        const { data } = context.getImageData(0, 0, image.width, image.height);
        const ink = (x: number, y: number) => 255 - data[4 * (y * image.width + x)]!;
        let [left, top, right, bottom] = [Infinity, Infinity, -1, -1];
        for (let y = 0; y < image.height; y++)
          for (let x = 0; x < image.width; x++)
            if (ink(x, y) > 96) [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
        return { ink, left, top, width: right - left, height: bottom - top };
      };
      const [p, q] = [await read(first!), await read(second!)];
      // The best of small shifts, since cropping cannot be finer than a pixel.
      let best = 0;
      for (const dx of [-1, 0, 1])
        for (const dy of [-1, 0, 1]) {
          let common = 0;
          let all = 0;
          for (let y = 0; y <= p.height; y++)
            for (let x = 0; x <= Math.max(p.width, q.width); x++) {
              const [u, v] = [p.ink(p.left + x, p.top + y) || 0, q.ink(q.left + x + dx, q.top + y + dy) || 0];
              common += Math.min(u, v);
              all += Math.max(u, v);
            }
          best = Math.max(best, common / all);
        }
      return best;
    },
    [a.toString('base64'), b.toString('base64')],
  );
}

test('the waiting bundle becomes a word on the website, set in that very face', async ({ page, stack, context }) => {
  await openDemo(page, stack);
  await page.getByRole('link', { name: 'Look at it' }).click();
  await page.getByRole('button', { name: 'Sort it' }).click();
  await expect(page.getByText('every clause word for word').first()).toBeVisible();
  await expect(page.getByText('cut short').first()).toBeVisible();
  await expect(page.getByText('This is text, not a font').first()).toBeVisible();
  await page.getByRole('button', { name: /^Set aside/ }).click();
  await expect(page.getByText('resource fork')).toBeVisible();

  await page.getByRole('link', { name: 'Look and confirm' }).first().click();
  await expect(page.getByText('reads as the SIL Open Font License 1.1')).toBeVisible();
  await expect(page.getByRole('complementary')).toContainText('SIL OPEN FONT LICENSE');
  // Nothing is confirmed for a person.
  const confirm = page.getByRole('checkbox', { name: /I have read the terms/ });
  await expect(confirm).not.toBeChecked();
  await confirm.check();
  await page.getByRole('button', { name: 'Keep this license' }).click();

  await page.waitForURL('**/library?face=*');
  const margin = page.getByRole('complementary');
  await expect(margin.getByRole('heading', { name: 'Source Serif 4' })).toBeVisible();
  for (const question of ['What is it?', 'May we?', 'Can it write it?', 'Where is it?', 'What do I hand over?'])
    await expect(margin.getByRole('heading', { name: question })).toBeVisible();
  await page.getByLabel('Proof line').fill('Crimson-flowered broad bean');
  await expect(page.locator('[data-live=ready]', { hasText: 'Crimson-flowered broad bean' }).first()).toBeVisible();

  await margin.getByRole('link', { name: 'Web kit' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'State this and make the kit' }).click();
  expect(
    readFileSync(await (await download).path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
  await page.goBack();
  await expect(page.getByLabel('Proof line')).toHaveValue('Crimson-flowered broad bean');

  await margin.getByRole('link', { name: 'Check it for a place' }).click();
  await expect(page.getByText('takes WOFF2 and WOFF only')).toBeVisible();
  await page.getByRole('button', { name: 'Convert to WOFF2' }).click();
  await expect(page.getByText(/It goes out as WOFF2/)).toBeVisible();
  await expect(page.getByText('I declare that Hollin Bank Seeds has the right')).toBeVisible();
  await page.getByRole('button', { name: 'State this and put it there' }).click();
  await expect(page.getByRole('heading', { name: 'It is on hollin-bank.example' })).toBeVisible();
  await expect(page.getByText('a visitor’s browser gets it from the page')).toBeVisible();

  const opening = context.waitForEvent('page');
  await page.getByRole('link', { name: 'Look at it there' }).click();
  const shop = await opening;
  await shop.waitForLoadState('networkidle');
  const heading = shop.getByRole('heading', { level: 1 });
  await shop.evaluate(() => document.fonts.ready);
  expect(await shop.evaluate(() => document.fonts.check('60px "Shop Heading"'))).toBe(true);

  // The word as the website shows it against the same word drawn from HarfBuzz's outlines of the original OTF.
  const after = await heading.screenshot();
  const { shapeLine } = await import('../packages/core/dist/engines/index.js');
  const line = shapeLine(new Uint8Array(readFileSync('node_modules/source-serif/OTF/SourceSerif4-Regular.otf')), 0, 'Hollin Bank Seeds');
  const drawing = await context.newPage();
  const scale = 60 / line.unitsPerEm;
  await drawing.setContent(
    `<body style="margin:0;background:#f4f1e4"><svg width="900" height="120" style="display:block"><g transform="translate(20 80) scale(${scale} ${-scale})"><path d="${line.path}" fill="#22281d"/></g></svg></body>`,
  );
  const drawn = await drawing.locator('svg').screenshot();
  await shop.keyboard.down('b');
  const before = await heading.screenshot();
  await shop.keyboard.up('b');
  const same = await inkInCommon(drawing, after, drawn);
  const other = await inkInCommon(drawing, before, drawn);
  expect(same).toBeGreaterThan(0.9);
  expect(other).toBeLessThan(0.6);
  await expect(shop.getByText('Headings set in Source Serif 4')).toBeVisible();
});

test('a ZIP chosen from the disk comes in with its progress, and a second time adds nothing', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/intake`);
  await page.getByLabel('Choose files').setInputFiles(stack.bundle);
  await page.waitForURL('**/intake/*-*');
  await expect(page.getByRole('button', { name: /^Already here/ })).toBeVisible();
  await page.getByRole('button', { name: /^Already here/ }).click();
  await expect(page.getByText('The same file is here already').first()).toBeVisible();
  // The address holds what is shown, so a reload shows it again.
  await page.reload();
  await expect(page.getByRole('button', { name: /^Already here/ })).toHaveAttribute('aria-pressed', 'true');
});

test('dropping anywhere on the intake brings files in', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/intake`);
  await expect(page.getByText('Drop a ZIP here')).toBeVisible();
  const bytes = readFileSync('node_modules/@expo-google-fonts/gochi-hand/400Regular/GochiHand_400Regular.ttf').toString('base64');
  await page.evaluate((base64) => {
    const data = new DataTransfer();
    data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'dropped.ttf'));
    for (const kind of ['dragenter', 'dragover', 'drop'])
      document.body.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }));
  }, bytes);
  await page.waitForURL('**/intake/*-*');
  await expect(page.getByText('The same file is here already')).toBeVisible();
});
