import { expect, openDemo, test } from './stack';

test('the sentence filters by language, use and format, and is the address', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library`);
  await page.getByRole('button', { name: 'any language' }).click();
  await page.getByLabel('Find a language').fill('greek');
  await page
    .getByRole('option', { name: /^Greek/ })
    .first()
    .click();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/writes=el/);
  await page.getByRole('button', { name: 'any use' }).click();
  await page.getByRole('option', { name: 'website' }).click();
  const lines = page.getByRole('list', { name: /famil/ }).getByRole('button');
  await expect(lines).toHaveCount(2);
  await page.reload();
  await expect(lines).toHaveCount(2);
  await page.getByRole('button', { name: 'Show all' }).click();
  await expect(page).not.toHaveURL(/writes=/);
});

test('a text is checked: what lacks what, what only looks right, and what mends it', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library/text`);
  await page.getByLabel('Text to check').fill("Ffa o'r ardd, \u0421at, 14,50 zł");
  await expect(page.getByText('Latin and Cyrillic letters stand in one word')).toBeVisible();
  await page.getByRole('button', { name: 'Write “Cat”' }).click();
  await expect(page.getByLabel('Text to check')).toHaveValue(/Cat/);
  await expect(page.getByText('Latin and Cyrillic letters')).toHaveCount(0);
  await expect(page.getByText(/faces? sets? all of it|face sets all of it/)).toBeVisible();
  await page.getByLabel('Text to check').fill('ضوء');
  await page
    .getByRole('complementary')
    .getByRole('button', { name: /Young Serif/ })
    .click();
  await expect(page.getByText('ARABIC LETTER DAD')).toBeVisible();
});

test('characters are found by name, drawn, and copied', async ({ page, stack, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library?q=literata`);
  await page.getByRole('list', { name: /famil/ }).getByRole('button').first().click();
  await page.getByRole('link', { name: /All characters/ }).click();
  await expect(page.getByRole('heading', { name: /Basic Latin/ })).toBeVisible();
  await page.getByPlaceholder(/Name, U\+20AC/).fill('euro sign');
  await page.getByRole('button', { name: 'U+20AC €' }).click();
  await expect(page.getByRole('heading', { name: 'EURO SIGN' })).toBeVisible();
  await expect(page.getByRole('img', { name: /Outline of EURO SIGN/ })).toBeVisible();
  await page.getByRole('button', { name: 'Copy as HTML' }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('&#x20AC;');
  await page.getByRole('button', { name: 'Copy as Character' }).click();
  await expect(page.getByRole('link', { name: 'Set every line in this' })).toBeVisible();
});

test('faces from the tray are compared, matched by x-height on request', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library`);
  const lines = page.getByRole('list', { name: /famil/ }).getByRole('button');
  for (const i of [0, 2]) {
    await lines.nth(i).click();
    await page.getByRole('button', { name: 'Pick up' }).click();
  }
  await page.getByRole('link', { name: 'Compare' }).click();
  await expect(page.getByRole('row', { name: /x-height/ })).toBeVisible();
  await page.getByLabel('Same x-height').check();
  await expect(page.getByText(/size × 1\.\d/)).toHaveCount(2);
  await page.getByLabel('Over each other').check();
  await expect(page).toHaveURL(/view=over/);
});
