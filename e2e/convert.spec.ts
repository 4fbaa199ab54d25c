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
  await expect(page.getByText(/It is converted to WOFF2; about \d+ KiB\./)).toBeVisible();

  // The sentence, by keyboard.
  await page.getByRole('button', { name: 'format: WOFF2' }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('option', { name: 'OTF' }).click();
  await page.getByRole('button', { name: 'characters: every character' }).click();
  await page.getByRole('option', { name: 'the words below' }).click();
  await page.getByLabel('Words that must be set').fill('Fasola tyczna, łąka');
  await page.getByLabel('Words that must be set').blur();
  await expect(page.getByText(/It is cut down to at most \d+ characters, given CFF outlines; about \d+ KiB\./)).toBeVisible();
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

test('a recipe is kept under a name, a face comes in several files, and a glyph is shown before and after', async ({ page, stack }) => {
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string }[];
  };
  const lead = (name: string): string => families.find((f) => f.name === name)!.leadFaceId;
  await page.goto(`${stack.address}/foundry?faces=${lead('Literata')}&with=own`);
  await page.getByRole('button', { name: 'files: one file' }).click();
  await page.getByRole('option', { name: 'a file for each script and language' }).click();
  await page.getByRole('button', { name: 'Convert 1 face' }).click();
  await expect(page.getByRole('link', { name: 'Literata-Regular-grek.woff2' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'What a page loads' })).toBeVisible();
  await expect(page.getByRole('img', { name: /^Sizes before and after: Literata Regular/ })).toBeVisible();
  const name = `For our website ${Date.now()}`;
  await page.getByLabel('Name of the recipe').fill(name);
  await page.getByRole('button', { name: 'Keep it' }).click();
  const kept = page.getByRole('button', { name, exact: true });
  await expect(kept).toHaveAttribute('aria-pressed', 'true');
  await expect(page.locator('li', { has: kept }).getByText('1 face', { exact: true })).toBeVisible();

  // From another sentence back to it, by one press, and by the back button out of it again.
  await page.goto(`${stack.address}/foundry?faces=${lead('Literata')}&to=otf`);
  await kept.click();
  await expect(page.getByRole('button', { name: 'files: a file for each script and language' })).toBeVisible();
  await page.goBack();
  await expect(page.getByRole('button', { name: 'format: OTF' })).toBeVisible();
  await page.getByRole('button', { name: 'Convert 1 face' }).click();
  await page.getByRole('button', { name: 'Before and after, one over the other' }).click();
  await expect(page.getByRole('img', { name: /before and after, one over the other/ })).toBeVisible();
  await page.getByLabel('Character to compare').fill('Q');
  await expect(page.getByText('“Q”: filled as it came in')).toBeVisible();
  await page.getByRole('button', { name: `Forget ${name}` }).click();
  await expect(kept).toHaveCount(0);
});

test('words become shapes in their true size, and what a face cannot set is said', async ({ page, stack }) => {
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string }[];
  };
  const lead = (name: string): string => families.find((f) => f.name === name)!.leadFaceId;
  await page.goto(`${stack.address}/library?face=${lead('Literata')}`);
  await page.getByRole('link', { name: 'Words as shapes' }).click();
  await page.getByLabel('Words, each line as it shall stand').fill('Fresh Bread\nsince 1962');
  await page.getByRole('button', { name: 'what is measured: the em' }).click();
  await page.getByRole('option', { name: 'the whole width' }).click();
  await page.getByLabel('Size').fill('240');
  await page.getByLabel('Size').press('Enter');
  await expect(page.getByText(/^240 by \d+(\.\d)? mm, from the outermost ink/)).toBeVisible();
  await expect(page.getByRole('img', { name: /Fresh Bread/ })).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'SVG', exact: true }).click();
  const svg = readFileSync(await (await download).path(), 'utf8');
  expect(svg).toMatch(/^<svg [^>]*width="240mm"/);
  expect(svg).toContain('Outlines of words set in Literata Regular');
  await page.getByLabel('Words, each line as it shall stand').fill('日本');
  await expect(page.getByRole('alert')).toContainText('cannot set “日”');
  // Without a license, the words are drawn to look at; they are taken away only when somebody settled it.
  await page.goto(`${stack.address}/foundry/words?face=${lead('Caveat')}&text=Jam&for=logo`);
  await expect(page.getByRole('img', { name: 'Jam' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'SVG', exact: true })).toHaveCount(0);
});
