import { readFileSync } from 'node:fs';
import { expect, openDemo, test } from './stack';

test('a face is converted by a sentence, with its proof beside it, and what is not allowed says why', async ({ page, stack }) => {
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string }[];
  };
  const lead = (name: string): string => families.find((f) => f.name === name)!.leadFaceId;
  await page.goto(`${stack.address}/library?face=${lead('Literata')}`);
  await page.getByRole('link', { name: 'Convert it' }).click();
  await expect(page.getByText('It is converted to WOFF2.')).toBeVisible();

  // The sentence, by keyboard.
  await page.getByRole('button', { name: 'format: WOFF2' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: 'OTF' }).click();
  await page.getByRole('button', { name: 'characters: every character' }).click();
  await page.getByRole('option', { name: 'the words below' }).click();
  await page.getByLabel('Words that must be set').fill('Fasola tyczna, łąka');
  await page.getByLabel('Words that must be set').blur();
  await expect(page.getByText(/It is cut down to at most \d+ characters, given CFF outlines\./)).toBeVisible();
  await page.getByRole('button', { name: 'Convert 1 face' }).click();
  const link = page.getByRole('link', { name: 'Literata-Regular.otf' });
  await expect(link).toBeVisible();
  await expect(page.getByText(/glyphs compared; no outline is farther than 0\.\d\d thousandths/)).toBeVisible();
  await expect(page.getByText('All that may be converted is made.')).toBeVisible();
  const download = page.waitForEvent('download');
  await link.click();
  expect(
    readFileSync(await (await download).path())
      .subarray(0, 4)
      .toString(),
  ).toBe('OTTO');

  // A reload keeps the sentence; a face without a license stays as it is, and the way to one is there.
  await page.reload();
  await expect(page.getByRole('button', { name: 'format: OTF' })).toBeVisible();
  await expect(page.getByLabel('Words that must be set')).toHaveValue('Fasola tyczna, łąka');
  await page.goto(`${stack.address}/foundry?faces=${lead('Caveat')},${lead('Literata')}&to=ttf`);
  await expect(page.getByText(/No license is on record for this face/)).toBeVisible();
  await expect(page.getByText('It is that already; nothing is changed.').first()).toBeVisible();
  await expect(page.getByText('1 face stays as it is; the reason stands beside each.')).toBeVisible();
  await page.goto(`${stack.address}/foundry`);
  await expect(page.getByText('No face was chosen.')).toBeVisible();
});
