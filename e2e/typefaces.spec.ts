import { readFileSync } from 'node:fs';
import { expect, newWorkspace, openDemo, test } from './stack';

test('a typeface begins, its sheet is laid out and comes back empty, and a letter is drawn on screen', async ({ page, stack }) => {
  await newWorkspace(page, stack, 'Brushwork');
  await page.goto(`${stack.address}/foundry/typefaces`);
  await page.getByRole('button', { name: 'Begin a typeface' }).click();
  await page.getByLabel('Name of the family').fill('Brushwork Hand');
  await page.getByLabel('Capitals only, small letters are copies of them').check();
  await page.getByRole('button', { name: 'Begin it' }).click();
  await expect(page.getByRole('heading', { name: 'Brushwork Hand' })).toBeVisible();
  await page.getByRole('button', { name: 'Lay out a sheet' }).click();
  const link = page.getByRole('link', { name: /^PNG/ }).first();
  await expect(link).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  await page.getByLabel('Bring in filled pages').setInputFiles([
    { name: 'page.png', mimeType: 'image/png', buffer: readFileSync(await download.path()) },
    { name: 'letter.txt', mimeType: 'text/plain', buffer: Buffer.from('Dear all') },
  ]);
  await expect(page.getByText(/Nothing was drawn in:/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/no picture that is read here/)).toBeVisible();

  await page.getByRole('button', { name: 'Draw on screen' }).click();
  await page.getByLabel('Another box').selectOption({ label: 'I' });
  const canvas = page.locator('canvas');
  const box = (await canvas.boundingBox())!;
  const stroke = async (x: number): Promise<void> => {
    await page.mouse.move(box.x + x * box.width, box.y + 0.25 * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + x * box.width, box.y + 0.72 * box.height, { steps: 8 });
    await page.mouse.up();
  };
  await stroke(0.3);
  await stroke(0.6);
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('1 letter came in.')).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Leave it' }).click();
  // I, and its copy for i; what was undone is not in it.
  const options = page.getByRole('listbox', { name: 'Letters' }).getByRole('option');
  await expect(options.filter({ hasText: /^I$/ })).toHaveCount(1);
  await options.filter({ hasText: /^I$/ }).click();
  await expect(page.getByText('Drawn on screen.')).toBeVisible();
  // A reload in the middle loses nothing.
  await page.reload();
  await expect(options.filter({ hasText: /^I$/ })).toHaveCount(1);
});

test('letters are mended with the keyboard, points moved, sides set and words shown in the face', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/foundry/typefaces`);
  await page.getByRole('link', { name: /Hollin Hand/ }).click();
  const letters = page.getByRole('listbox', { name: 'Letters' });
  await letters.getByRole('option', { name: 'a', exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('heading', { name: 'b', exact: true })).toBeVisible();
  const path = (): Promise<string | null> => letters.getByRole('option', { name: /^b/ }).first().locator('path').getAttribute('d');
  const before = await path();
  await page.getByRole('button', { name: 'Thicker' }).click();
  await expect(page.getByText('Thicker by 8', { exact: true })).toBeVisible();
  expect(await path()).not.toBe(before);
  await page.getByRole('button', { name: /Take back.*Thicker by 8/ }).click();
  await expect.poll(path).toBe(before);

  await page.getByRole('button', { name: 'Move its points' }).click();
  const point = page.getByRole('button', { name: /^(Smooth point|Corner) at/ }).first();
  await point.focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Shift+ArrowUp');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect.poll(path).not.toBe(before);
  await letters.getByRole('option', { name: /^b/ }).first().click();
  await page.getByRole('button', { name: 'As it was drawn' }).click();
  await expect.poll(path).toBe(before);

  await page.getByLabel('Left', { exact: true }).fill('99');
  await page.keyboard.press('Tab');
  await expect(page.getByLabel('Left, set')).toHaveValue('99');
  await page.getByRole('button', { name: 'Spacing' }).click();
  await expect(page.getByText('b: 99 and')).toBeVisible();
  const sample = page.locator('p.border', { hasText: 'Hamburg onions' });
  await expect.poll(() => sample.evaluate((p) => getComputedStyle(p).fontFamily)).toMatch(/^"?drawn-/);
  await page.getByRole('button', { name: 'Letters' }).click();
  await letters.getByRole('option', { name: /^b/ }).first().click();
  await page.getByRole('button', { name: 'As computed' }).click();
  await expect(page.getByLabel('Left', { exact: true })).not.toHaveValue('99');
  // Back leads to where one came from, and forth to the typeface again.
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'Drawn typefaces' })).toBeVisible();
  await page.goForward();
  await expect(letters).toBeVisible();
});
