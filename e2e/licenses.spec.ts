import { readFileSync } from 'node:fs';
import { expect, openDemo, test } from './stack';

test('free-form terms become a record one press at a time, with evidence and its history', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/licenses`);
  await page.getByRole('region', { name: 'Nothing on record' }).getByRole('link', { name: 'Lantern Gate' }).click();
  await page.getByRole('link', { name: /the license$/ }).click();
  // The sentences of the terms stand beside the use; nothing is answered before somebody presses, and one press takes them along.
  const print = page.getByRole('radiogroup', { name: 'Print', exact: true });
  await expect(print.getByRole('radio', { checked: true })).toHaveCount(0);
  await expect(page.getByText('Commercial use requires a license; write to the maker.').first()).toBeVisible();
  await expect(page.getByText('This stands above all uses.')).toBeVisible();
  await print.getByRole('radio', { name: 'No', exact: true }).click();
  await expect(print.getByRole('radio', { name: 'No', exact: true })).toBeChecked();
  // A reload in the middle loses nothing.
  await page.reload();
  await expect(print.getByRole('radio', { name: 'No', exact: true })).toBeChecked();
  await expect(page.getByText('What you had entered and not kept is here again.')).toBeVisible();
  await page.getByLabel('Begin as licenses of a kind usually are').selectOption('personal');
  await page.getByRole('button', { name: 'Keep this license' }).click();
  await page.waitForURL('**/library?face=*');

  await page.goto(`${stack.address}/licenses`);
  await page.getByRole('link', { name: /Terms of Lantern Gate/ }).click();
  await page.getByText('Add a receipt, terms or an e-mail').waitFor();
  await page.locator('input[type=file]').setInputFiles({
    name: 'Photo of the receipt.jpg',
    mimeType: 'image/jpeg',
    buffer: Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16]),
  });
  await expect(page.getByText('what a picture shows is not read').first()).toBeVisible();
  await expect(page.getByText('1 evidence file added.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep the file unmodified' }).click();
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await page.waitForURL('**/library?face=*');
});

test('a mark gives its reason, by keyboard; the filter stays in the address', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/licenses/uses`);
  await page.getByRole('button', { name: 'Used somewhere without a right' }).focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/show=no-right/);
  await page.getByRole('button', { name: 'Tide Marker, Website: no' }).focus();
  await page.keyboard.press('Enter');
  const why = page.getByRole('complementary', { name: 'Why' });
  await expect(why.getByText(/ended on/)).toBeVisible();
  await expect(why.getByText('You may use it on your website until the stall is over.')).toBeVisible();
  await page.reload();
  await expect(why.getByText(/ended on/)).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), why.getByRole('button', { name: 'As ZIP, with evidence' }).click()]);
  expect(download.suggestedFilename()).toBe('proof-of-rights-website.zip');
  expect(
    readFileSync(await download.path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
});

test('the audit looks at another day, and its files are offered', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/licenses/audit?show=problems`);
  await expect(page.getByRole('link', { name: 'Tide Marker Regular' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Pebble Sign Regular' })).toHaveCount(0);
  const later = new Date(Date.now() + 90 * 86_400_000).toISOString().slice(0, 10);
  await page.getByLabel('Also on').fill(later);
  await expect(page).toHaveURL(new RegExp(`day=${later}`));
  // The subscription will have ended by then.
  await expect(page.getByRole('link', { name: 'Pebble Sign Regular' })).toBeVisible();
  for (const [name, start] of [
    ['PDF', '%PDF'],
    ['CSV', '\ufeffFace'],
    ['JSON', '{'],
  ] as const) {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name, exact: true }).click()]);
    expect(download.suggestedFilename()).toContain(later);
    expect(readFileSync(await download.path(), 'utf8').startsWith(start)).toBe(true);
  }
});

test('an owner goes ahead without a right, with a reason that the delivery shows', async ({ page, stack }) => {
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as {
    families: { name: string; leadFaceId: string }[];
  };
  const face = families.find((f) => f.name === 'Rowan Block')!.leadFaceId;
  // Converting the file for the website is forbidden, and so not offered; nobody goes ahead with that.
  await page.goto(`${stack.address}/places/check?faces=${face}`);
  await expect(page.getByText(/“Convert to WOFF2” would mend it, and the license does not allow that/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Convert to WOFF2' })).toHaveCount(0);
  // The print shop takes the file as it is: only the right to let customers type with it is missing.
  const places = (await (await page.request.get(`${stack.address}/api/places`)).json()) as { id: string; profileId: string }[];
  const shop = places.find((p) => p.profileId === 'print-shop')!.id;
  await page.goto(`${stack.address}/places/check?faces=${face}&places=${shop}`);
  await page.getByRole('checkbox', { name: /without a right/ }).check();
  await expect(page.getByText(/nothing on record gives Hollin Bank Seeds the right/)).toBeVisible();
  const send = page.getByRole('button', { name: 'State this and put it there' });
  await expect(send).toBeDisabled();
  await page.getByLabel('Why do you go ahead?').fill('The maker agreed on the telephone');
  await send.click();
  await page.waitForURL('**/deliveries/batch/*');
  await expect(page.getByText('an owner went ahead: The maker agreed on the telephone')).toBeVisible();
});

test('what ends next is drawn over time and told in words', async ({ page, stack }) => {
  await openDemo(page, stack);
  const refused: string[] = [];
  page.on('console', (m) => m.type() === 'error' && refused.push(m.text()));
  await page.goto(`${stack.address}/licenses`);
  const drawing = page.getByRole('img', { name: /Terms of 2 licenses over time/ });
  await expect(drawing.locator('svg').first()).toBeVisible();
  await expect(drawing.getByText('Pebble Sign, yearly')).toBeVisible();
  // The content policy lets nothing inline through, and the chart keeps to it.
  expect(refused).toEqual([]);
});
