import { expect, openDemo, test } from './stack';

interface Family {
  name: string;
  leadFaceId: string;
}
interface Place {
  id: string;
  name: string;
  address: string;
}

test('faces against places: mended with one press, sent in one go, seen at the places, and taken off with proof', async ({
  page,
  stack,
  context,
}) => {
  await openDemo(page, stack);
  const { families } = (await (await page.request.get(`${stack.address}/api/families`)).json()) as { families: Family[] };
  const places = (await (await page.request.get(`${stack.address}/api/places`)).json()) as Place[];
  const lead = (name: string): string => families.find((f) => f.name === name)!.leadFaceId;
  const at = (name: string): Place => places.find((p) => p.name === name)!;
  const chosen = ['Seed store', 'Drawing board', 'Loft computer'].map((n) => at(n).id).join(',');
  await page.goto(`${stack.address}/places/check?faces=${lead('Be Vietnam Pro')},${lead('Noto Sans')}&places=${chosen}`);
  await expect(page.getByRole('heading', { name: 'Can they go to 3 places?' })).toBeVisible();
  const field = page.getByRole('button', { name: 'Noto Sans Regular at Seed store' });
  await expect(field).toContainText('Can be mended');
  await page.getByRole('button', { name: /^Mend 2 fields/ }).click();
  await expect(field).toContainText('Goes, mended');
  await field.click();
  await expect(page.getByText('The copy is made and compared when it is sent.')).toBeVisible();
  // The choice is in the address: a reload keeps it.
  await page.reload();
  await expect(field).toContainText('Goes, mended');
  await page.getByLabel('What they are there').first().selectOption('headings');
  await expect(page.getByText('Be Vietnam Pro Regular gets it')).toBeVisible();
  await page.getByRole('button', { name: 'State this and put 2 faces at 3 places' }).click();
  await expect(page.getByRole('heading', { name: 'All is at its 3 places' })).toBeVisible({ timeout: 30_000 });

  // The store's product page sets its headings in the face that was given the role.
  const store = await context.newPage();
  await store.goto(at('Seed store').address);
  await store.evaluate(() => document.fonts.ready);
  expect(
    await store.evaluate(() => [...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family.replace(/"/g, ''))),
  ).toContain('Be Vietnam Pro');
  // The design tool shows it on its board, and the computer's programs list it after a new start.
  const board = await context.newPage();
  await board.goto(at('Drawing board').address);
  await expect(board.locator('select[name=face]')).toContainText('Be Vietnam Pro Regular');
  const computer = await context.newPage();
  await computer.goto(at('Loft computer').address);
  await expect(computer.getByLabel('Font').first()).not.toContainText('Noto Sans');
  await computer.getByRole('button', { name: 'Start Letter writer again' }).click();
  await expect(computer.getByLabel('Font').first()).toContainText('Noto Sans Regular');

  await page.goto(`${stack.address}/places/withdraw?faces=${lead('Noto Sans')}`);
  await page.getByRole('button', { name: 'Take 3 files off' }).click();
  await expect(page.getByRole('heading', { name: 'Off 3 places' })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('Taken off; we looked, and it is gone.')).toHaveCount(3);
  await computer.reload();
  await expect(computer.getByText('Noto-Sans-Regular')).toHaveCount(0);
});

test('a place that lost and one that changed a file are told apart after a look, and the file is replaced', async ({ page, stack }) => {
  await openDemo(page, stack);
  const places = (await (await page.request.get(`${stack.address}/api/places`)).json()) as Place[];
  const shop = places.find((p) => p.name === 'Apron printers')!;
  const listed = (await (await page.request.get(`${shop.address}/fonts`, { headers: { authorization: 'Bearer e2e' } })).json()) as {
    faces: { name: string }[];
  };
  await page.request.delete(`${shop.address}/fonts/${listed.faces[0]!.name}`, { headers: { authorization: 'Bearer e2e' } });
  await page.goto(`${stack.address}/places/${shop.id}`);
  await page.getByRole('button', { name: 'Look whether all is there' }).click();
  await expect(page.getByText(/Missing there/)).toBeVisible({ timeout: 20_000 });
  await page.getByRole('link', { name: /^Replace it/ }).click();
  await expect(page.getByText('I declare that Hollin Bank Seeds has the right')).toBeVisible();
  await page.getByRole('button', { name: 'State this and put it there' }).click();
  await expect(page.getByRole('heading', { name: 'It is on Apron printers' })).toBeVisible({ timeout: 20_000 });
  await page.goto(`${stack.address}/places/${shop.id}`);
  await expect(page.getByText(/Missing there/)).toHaveCount(0);
});
