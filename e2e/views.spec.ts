import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, newWorkspace, openDemo, test } from './stack';

const AXE = readFileSync('node_modules/axe-core/axe.min.js', 'utf8');

interface Violation {
  id: string;
  nodes: { html: string }[];
}

/** What axe finds against WCAG 2.2 AA and its own best practices, the sizes of targets and names beside labels included. */
async function axe(page: Page, only: string[] | null = null): Promise<string[]> {
  await page.evaluate(AXE);
  const violations = await page.evaluate(
    (rules) =>
      (window as unknown as { axe: { run(options: object): Promise<{ violations: Violation[] }> } }).axe
        .run(
          rules
            ? { runOnly: { type: 'rule', values: rules } }
            : { rules: { 'target-size': { enabled: true }, 'label-content-name-mismatch': { enabled: true } } },
        )
        .then((r) => r.violations),
    only,
  );
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`);
}

async function firstFace(page: Page): Promise<string> {
  const { families } = (await (await page.request.get(new URL('/api/families', page.url()).href)).json()) as {
    families: {
      name: string;
      leadFaceId: string;
      id: string;
    }[];
  };
  return families.find((f) => f.name === 'Young Serif')!.leadFaceId;
}

const placeIds = async (page: Page): Promise<string[]> =>
  ((await (await page.request.get(`${new URL(page.url()).origin}/api/places`)).json()) as { id: string }[]).map((p) => p.id);

test('axe finds nothing on any main view, light or dark', async ({ page, stack }) => {
  await page.goto(stack.address);
  await expect(page.getByRole('button', { name: 'Open the demo' })).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await openDemo(page, stack);
  const face = await firstFace(page);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { id: string; faces: { id: string; version: string | null }[] }[];
  };
  const family = families[0]!.id;
  const doubled = families.find((f) => f.faces.filter((x) => x.version !== null).length > 1)!;
  const versions = doubled.faces.filter((x) => x.version !== null).map((x) => x.id);
  const intakes = (await (await page.request.get(`${stack.address}/api/intakes`)).json()) as { id: string; state: string }[];
  const other = families[1]!.faces[0]!.id;
  const places = await placeIds(page);
  const sets = (await (await page.request.get(`${stack.address}/api/icon-sets`)).json()) as { id: string }[];
  const typefaces = (await (await page.request.get(`${stack.address}/api/typefaces`)).json()) as { id: string }[];
  const inquiries = (await (await page.request.get(`${stack.address}/api/inquiries`)).json()) as { id: string }[];
  const views = [
    '/foundry/typefaces',
    '/foundry/pictures',
    '/foundry/pictures/new',
    `/foundry/pictures/${inquiries[0]!.id}`,
    `/foundry/typefaces/${typefaces[0]!.id}`,
    `/foundry/typefaces/${typefaces[0]!.id}?view=sheets`,
    `/foundry/typefaces/${typefaces[0]!.id}?view=spacing`,
    `/foundry/typefaces/${typefaces[0]!.id}?view=release`,
    '/foundry/icons',
    `/foundry/icons/${sets[0]!.id}`,
    `/foundry/icons/${sets[0]!.id}?view=codes`,
    `/foundry/icons/${sets[0]!.id}?view=release`,
    '/desk',
    '/intake',
    `/intake/${intakes.find((i) => i.state === 'done')!.id}`,
    `/library?face=${face}`,
    `/library/try?face=${face}`,
    `/library/try?face=${face}&view=colors`,
    `/library/characters?face=${face}`,
    `/library/languages?face=${face}&language=el`,
    `/foundry?faces=${face}&to=otf&with=own&names=other&axes=part`,
    `/foundry/words?face=${face}&text=Jam`,
    '/library/text',
    '/library/order',
    '/library/words',
    `/library/family/${family}`,
    `/library/versions?older=${versions[0]}&newer=${versions[1]}`,
    `/library/proof?faces=${face}`,
    `/handover?faces=${face}`,
    `/foundry?faces=${face}&to=otf&with=text&features=drop&axes=named`,
    '/foundry',
    '/account',
    '/licenses',
    `/licenses/uses?face=${face}&use=website`,
    `/licenses/new?faces=${face}`,
    '/licenses/audit',
    `/licenses/proof?faces=${face}`,
    '/places',
    '/places/check',
    `/places/check?faces=${face}`,
    `/places/check?faces=${face},${other}&places=${places.join(',')}&look=${other!.slice(0, 8)}.${places[0]!.slice(0, 8)}`,
    `/places/${places[0]}`,
    `/places/${places[3]}`,
    `/places/${places[0]}/rules`,
    '/places/withdraw?ended=1',
    '/places/house-styles',
    '/people',
    '/nowhere',
  ];
  const found: unknown[] = [];
  for (const view of views) {
    await page.emulateMedia({ colorScheme: 'light' });
    await page.goto(stack.address + view);
    await page.waitForLoadState('networkidle');
    for (const violation of await axe(page)) found.push(['light', view, violation]);
    // In the dark only colors are others.
    await page.emulateMedia({ colorScheme: 'dark' });
    for (const violation of await axe(page, ['color-contrast'])) found.push(['dark', view, violation]);
  }
  expect(found).toEqual([]);
});

test('nothing runs off the side at 1280 or at 390 pixels', async ({ page, stack }) => {
  await openDemo(page, stack);
  const face = await firstFace(page);
  const places = await placeIds(page);
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    for (const view of [
      '/desk',
      '/intake',
      `/library?face=${face}`,
      `/library/try?face=${face}&view=sizes&size=300`,
      `/library/languages?face=${face}&language=el`,
      '/library/order',
      `/library/proof?faces=${face}`,
      `/foundry?faces=${face}&to=otf&with=language&features=drop&axes=named&names=other`,
      `/foundry/words?face=${face}&text=A%20long%20line%20of%20words%20for%20a%20sign`,
      '/licenses',
      '/licenses/uses',
      `/licenses/new?faces=${face}`,
      '/places',
      `/places/check?faces=${face}`,
      `/places/check?faces=${face}&places=${places.join(',')}`,
      `/places/${places[3]}`,
      `/places/${places[0]}/rules`,
      '/places/withdraw?ended=1',
      '/places/house-styles',
      '/people',
    ]) {
      await page.goto(stack.address + view);
      await page.waitForLoadState('networkidle');
      expect([width, view, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([width, view, width]);
    }
  }
});

test('the library by keyboard alone, with selection and words in the address', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.getByRole('link', { name: 'Library' }).click();
  const lines = page.getByRole('list', { name: /famil/ }).getByRole('button');
  await lines.first().focus();
  await page.keyboard.press('Enter');
  await expect(lines.first()).toHaveAttribute('aria-current', 'true');
  await page.keyboard.press('ArrowDown');
  await expect(lines.nth(1)).toBeFocused();
  await expect(lines.nth(1)).toHaveAttribute('aria-current', 'true');
  await page.keyboard.press('p');
  await expect(page.getByRole('region', { name: 'Tray' })).toContainText('1 in the tray');
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await expect(page.getByRole('searchbox')).toBeFocused();
  await page.keyboard.type('noto');
  await expect(lines).toHaveCount(3);
  await page.getByRole('button', { name: 'Polish', exact: true }).click();
  await expect(page.getByLabel('Proof line')).toHaveValue(/Łubin/);
  await page.waitForURL(/text=/);
  await page.reload();
  await expect(page.getByLabel('Proof line')).toHaveValue(/Łubin/);
  await expect(lines).toHaveCount(3);
  await expect(page.getByRole('region', { name: 'Tray' })).toBeVisible();
});

test('a character that a face lacks is marked, not set in another face', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library?q=gochi`);
  await page.getByLabel('Proof line').fill('Łubin ж');
  await expect(page.getByTitle('ж (U+0436) is not in this face')).toBeVisible();
});

test('a changed phrase reaches every visible line', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library`);
  await expect(page.locator('[data-live=ready]').first()).toBeVisible();
  await page.getByLabel('Proof line').fill('Łubin żółty');
  await expect(page.locator('[data-live=loading]')).toHaveCount(0);
  expect(await page.locator('[data-live=ready]', { hasText: 'ubin' }).count()).toBeGreaterThan(5);
});

test('an empty workspace says what to do, and wrong files are told apart', async ({ page, stack }) => {
  await newWorkspace(page, stack, 'Empty Shop');
  await expect(page.getByText('There is no typeface here yet')).toBeVisible();
  await page.getByRole('link', { name: 'Library' }).click();
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  await page.getByRole('link', { name: 'Places' }).click();
  await expect(page.getByText('There is no place yet')).toBeVisible();
  await page.getByRole('link', { name: 'Licenses' }).click();
  await expect(page.getByText('No license is on record yet.')).toBeVisible();
  await page.getByRole('link', { name: 'Intake' }).click();
  await page.getByLabel('Choose files').setInputFiles([
    { name: 'page.ttf', mimeType: 'font/ttf', buffer: Buffer.from('<!doctype html>') },
    { name: 'nothing.otf', mimeType: 'font/otf', buffer: Buffer.alloc(0) },
    { name: 'broken.zip', mimeType: 'application/zip', buffer: Buffer.from('PK\x03\x04 and no more') },
  ]);
  await expect(page.getByText('No face came of this.')).toBeVisible();
  await expect(page.getByText('Refused', { exact: true })).toHaveCount(3);
});

test('a wrong address, a foreign id and a signed-out reload are answered', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/intake/00000000-0000-4000-8000-000000000000`);
  await expect(page.getByText('not here any more')).toBeVisible();
  await page.context().clearCookies();
  await page.goto(`${stack.address}/licenses`);
  await expect(page).toHaveURL(/sign-in\?to=/);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL('**/licenses');
});

test('a server that goes away is told, and work goes on when it is back', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library/words`);
  await page.getByLabel('Words of ready text 1', { exact: true }).fill('Kept through it all');
  await stack.kill();
  await page.getByRole('button', { name: 'Keep these texts' }).click();
  await expect(page.getByText('The server does not answer')).toBeVisible();
  await expect(page.getByLabel('Words of ready text 1', { exact: true })).toHaveValue('Kept through it all');
  await stack.restart();
  await page.getByRole('button', { name: 'Keep these texts' }).click();
  await expect(page.getByText(/^Kept\. They stand/)).toBeVisible();
});

test('a person is invited, joins by an own act, and is taken out', async ({ page, stack, browser }) => {
  await newWorkspace(page, stack, 'Two Of Us');
  await page.goto(`${stack.address}/people`);
  await page.getByLabel('For whom').fill('Fern');
  await page.getByRole('button', { name: 'Make an invitation' }).click();
  const address = await page.locator('p.code').innerText();
  const other = await (await browser.newContext()).newPage();
  await other.goto(address);
  await other.getByLabel('Your name').fill('Fern');
  await other.getByLabel('E-mail address').fill(`fern-${Date.now()}@test.example`);
  await other
    .getByLabel(/Password/)
    .first()
    .fill('rather long and odd words');
  await other.getByRole('button', { name: /^Join/ }).click();
  await other.waitForURL('**/desk');
  // The address worked once.
  const third = await (await browser.newContext()).newPage();
  await third.goto(address);
  await expect(third.getByText(/no longer|not hold|used/)).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Take out Fern' }).click();
  await expect(page.getByText('Fern is out of the workspace.')).toBeVisible();
  await other.goto(`${stack.address}/library`);
  await expect(other).toHaveURL(/sign-in|desk/);
  await expect(other.getByText('Two Of Us')).toHaveCount(0);
});

test('a new workspace chooses the languages it sells in, each with words of its own', async ({ page, stack }) => {
  await newWorkspace(page, stack, 'Words Shop');
  await page.goto(`${stack.address}/library/words`);
  await page.getByLabel('Add a language').fill('polish');
  await page.getByRole('option', { name: /^Polish/ }).click();
  await expect(page.getByLabel('Words of ready text 1', { exact: true })).toHaveValue(/dziewiątej/);
  await page.getByRole('button', { name: 'Keep these texts' }).click();
  await expect(page.getByText(/^Kept\. They stand/)).toBeVisible();
  await page.goto(`${stack.address}/library`);
  await expect(page.getByRole('button', { name: 'Polish', exact: true })).toBeVisible();
});

test('on a telephone the notes of a family stand there as soon as it is tapped', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${stack.address}/library`);
  const line = page.getByRole('list', { name: /famil/ }).getByRole('button').nth(1);
  const [type, name] = [line.locator('.live'), line.locator('.font-semibold').first()];
  await expect(type).toHaveAttribute('data-live', 'ready');
  expect((await name.boundingBox())!.y).toBeGreaterThanOrEqual((await type.boundingBox())!.y + 20);
  await line.click();
  await expect(page.getByRole('heading', { name: 'What is it?' })).toBeInViewport();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('heading', { name: 'What is it?' })).toHaveCount(0);
});

test('the focus is never lost: to the margin and back, after a new page, after a button that removes itself', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/library`);
  const lines = page.getByRole('list', { name: /famil/ }).getByRole('button');
  await lines.first().click();
  await expect(page.getByRole('heading', { name: 'What is it?' })).toBeVisible();
  await lines.first().focus();
  await page.keyboard.press('m');
  await expect(page.getByRole('complementary')).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(lines.first()).toBeFocused();
  await page.getByRole('link', { name: 'Places', exact: true }).focus();
  await page.keyboard.press('Enter');
  await expect(page.locator('#sheet')).toBeFocused();
  await page.goto(`${stack.address}/library/words`);
  await page.getByRole('button', { name: 'Take out Price' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Take out Price' })).toHaveCount(0);
  expect(await page.evaluate(() => document.activeElement !== document.body)).toBe(true);
});

test('a glyph without a code point is copied as its outline, not as another character', async ({ page, stack, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string }[];
  };
  await page.goto(`${stack.address}/library/characters?face=${families.find((f) => f.name === 'Literata')!.leadFaceId}&by=category`);
  const scroller = page.locator('.overflow-y-auto .relative').locator('xpath=..').first();
  await expect(page.getByRole('button', { name: /^U\+/ }).first()).toBeVisible();
  await scroller.evaluate((e) => e.scrollTo(0, e.scrollHeight));
  const answer = page.waitForResponse((r) => r.url().includes('/glyph?'));
  await page
    .getByRole('button', { name: /, feature / })
    .last()
    .click();
  const { path } = (await (await answer).json()) as { path: string };
  await expect(page.getByText('It has no code point')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Copy as Character' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Copy as Outline as SVG' }).click();
  const svg = await page.evaluate(() => navigator.clipboard.readText());
  // A drawing of its own that holds the very outline the server gave.
  expect(svg).toMatch(/^<svg xmlns="http:\/\/www\.w3\.org\/2000\/svg" viewBox="[-\d. ]+">/);
  expect(path.length).toBeGreaterThan(10);
  expect(svg).toContain(`d="${path}"`);
});
