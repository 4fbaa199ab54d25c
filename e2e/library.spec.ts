import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { expect, newWorkspace, openDemo, test, type Stack } from './stack';

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
  await page.getByRole('button', { name: 'Use: any use' }).click();
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
    await page.getByRole('button', { name: 'Pick up', exact: true }).click();
  }
  await page.getByRole('link', { name: 'Compare' }).click();
  await expect(page.getByRole('row', { name: /x-height/ })).toBeVisible();
  await page.getByLabel('Same x-height').check();
  await expect(page.getByText(/size × 1\.\d/)).toHaveCount(2);
  await page.getByLabel('Over each other').check();
  await expect(page).toHaveURL(/view=over/);
});

const lines = (page: Page) => page.getByRole('list', { name: /famil/ }).getByRole('button');

test('several families are put in order at once, and it is undone from where it is told', async ({ page, stack }) => {
  await openDemo(page, stack);
  // High enough for every line; lines out of sight are not drawn.
  await page.setViewportSize({ width: 1280, height: 2000 });
  await page.goto(`${stack.address}/library`);
  await page.getByLabel('Pick up Young Serif').check();
  await page.getByLabel('Pick up GFS Didot').check();
  await page.getByRole('button', { name: 'Put in order' }).click();
  const bar = page.getByRole('group', { name: 'Put the families in the tray in order' });
  await expect(bar).toContainText('2 families');
  await bar.getByRole('button', { name: 'Archive' }).click();
  await expect(lines(page)).toHaveCount(15);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(lines(page)).toHaveCount(17);
  await page.getByRole('button', { name: 'And …' }).click();
  await page.getByRole('menuitem', { name: /labeled/ }).click();
  await page.getByRole('button', { name: 'label: anything' }).click();
  await page.getByRole('option', { name: 'headlines' }).click();
  await expect(lines(page)).toHaveCount(2);
  await expect(page).toHaveURL(/label=headlines/);
  await page.getByRole('button', { name: 'Keep this sentence' }).click();
  await page.getByLabel('Name of the sentence').fill('Big words');
  await page.keyboard.press('Enter');
  await page.goto(`${stack.address}/library`);
  await page.getByRole('link', { name: 'Big words' }).click();
  await expect(lines(page)).toHaveCount(2);
  await page.goBack();
  await expect(lines(page)).toHaveCount(17);
});

test('a family is renamed, split and put together again, by hand and undone', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library?q=literata`);
  await lines(page).first().click();
  await page.getByRole('link', { name: 'All styles' }).click();
  await expect(page.getByRole('columnheader', { name: 'Italic' })).toBeVisible();
  await page.getByLabel('Choose Bold', { exact: true }).check();
  await page.getByLabel(/family of their own, named/).fill('Literata Signs');
  await page.getByRole('button', { name: 'Split them off' }).click();
  await expect(page.getByText('5 styles')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('6 styles')).toBeVisible();
});

test('versions in the demo are compared, folded by a rule and unfolded', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library/order`);
  await page.getByRole('link', { name: 'Compare outlines' }).first().click();
  await expect(page.getByRole('heading', { name: /Changed in shape/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /Both outlines/ })).toBeVisible();
  await page.goBack();
  await page.getByRole('button', { name: 'Fold by this rule' }).click();
  await expect(page.getByText('No face stands here twice.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(page.getByText('Versions of one face').first()).toBeVisible();
});

test('the language table says what adding Greek would need', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library/languages`);
  await page.getByRole('button', { name: 'Young Serif, Greek: no' }).click();
  await expect(page.getByText(/Adding Greek would need \d+ letters/)).toBeVisible();
  await expect(page.getByRole('complementary')).toContainText('GREEK CAPITAL LETTER GAMMA');
  await page.reload();
  await expect(page.getByText(/Adding Greek would need/)).toBeVisible();
});

test('a proof sheet goes to somebody without an account, and is taken back', async ({ page, stack, browser }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library?q=literata`);
  await lines(page).first().click();
  await page.getByRole('link', { name: 'Proof sheet', exact: true }).click();
  await expect(page.getByRole('img', { name: 'Page 1 of the proof sheet' })).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as PDF' }).click();
  expect(
    readFileSync(await (await download).path())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  await page.getByRole('button', { name: 'Put it up' }).click();
  const link = page.getByRole('link', { name: 'Proof sheet', exact: true });
  const address = await page.locator('a[href^="/proof/"]').first().getAttribute('href');
  await expect(link.first()).toBeVisible();
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(stack.address + address!);
  await expect(guest.getByRole('heading', { name: 'Literata Regular' })).toBeVisible();
  await expect(guest.getByText(/License: SIL Open Font License/)).toBeVisible();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await guest.reload();
  await expect(guest.getByText('There is no proof sheet at this address')).toBeVisible();
});

/** Advance of a line in Debian's HarfBuzz, in font units. */
function advance(file: string, text: string, features: string, variations: string): number {
  const out = execFileSync('hb-shape', ['--output-format=json', `--features=${features}`, `--variations=${variations}`, file, text], {
    encoding: 'utf8',
  });
  return (JSON.parse(out) as { ax: number }[]).reduce((sum, g) => sum + g.ax, 0);
}

async function widthOf(page: Page, stack: Stack, query: string): Promise<number> {
  await page.goto(`${stack.address}/library/try?size=200&${query}`);
  await expect(page.locator('[role=region] [data-live=ready]')).toBeVisible();
  await page.waitForTimeout(200);
  return page.locator('[role=region] [data-live=ready]').evaluate((el) => {
    (el as HTMLElement).style.whiteSpace = 'nowrap';
    return el.getBoundingClientRect().width;
  });
}

test('a feature or an axis on screen sets a line as wide as hb-shape does', async ({ page, stack }) => {
  await newWorkspace(page, stack, 'Widths');
  const files = [
    'node_modules/source-serif/VAR/SourceSerif4Variable-Roman.ttf',
    'node_modules/@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf',
  ].map((f) => join(process.cwd(), f)) as [string, string];
  await page.goto(`${stack.address}/intake`);
  await page.getByLabel('Choose files').setInputFiles(files);
  await page.waitForURL(/\/intake\/[0-9a-f-]{36}/);
  await expect(page.getByText('Literata_400Regular.ttf').first()).toBeVisible();
  await expect
    .poll(
      async () => ((await (await page.request.get(`${stack.address}/api/families`)).json()) as { families: unknown[] }).families.length,
      { timeout: 60_000 },
    )
    .toBe(2);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string; axes: string[] }[];
  };
  const variable = families.find((f) => f.axes.length > 0)!.leadFaceId;
  const still = families.find((f) => f.axes.length === 0)!.leadFaceId;
  const cases: [string, string, string, string, string][] = [
    [files[0], variable, 'Waving 10', '', 'wght=820,opsz=60'],
    [files[0], variable, 'Waving 10', 'onum', 'wght=250'],
    [files[1], still, 'Bean 1/2', 'smcp,frac', ''],
    [files[1], still, 'AVATAR fifi', '-kern,-liga', ''],
  ];
  for (const [file, face, text, features, variations] of cases) {
    const on = features
      .split(',')
      .filter(Boolean)
      .map((f) => (f.startsWith('-') ? `${f.slice(1)}-0` : f))
      .join(',');
    const width = await widthOf(
      page,
      stack,
      `face=${face}&text=${encodeURIComponent(text)}&on=${on}&at=${variations.replaceAll('=', '-')}`,
    );
    expect(width / 200).toBeCloseTo(advance(file, text, features, variations) / 1000, 2);
  }
});
