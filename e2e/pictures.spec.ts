import { createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { expect, openDemo, test } from './stack';

/** A word as a customer sends it: small, soft, colored, a little turned. */
function sent(): Buffer {
  GlobalFonts.registerFromPath('node_modules/@expo-google-fonts/literata/400Regular/Literata_400Regular.ttf', 'Sent');
  const canvas = createCanvas(260, 70);
  const x = canvas.getContext('2d');
  x.fillStyle = '#23402e';
  x.fillRect(0, 0, 260, 70);
  x.translate(130, 42);
  x.rotate(0.02);
  x.filter = 'blur(0.6px)';
  x.fillStyle = '#f2e9d0';
  x.font = '36px Sent';
  x.textAlign = 'center';
  x.fillText('Foxglove', 0, 6);
  return canvas.toBuffer('image/jpeg', 60);
}

test('a customer’s picture is read, its face found, laid over it, kept, and there again after a reload', async ({ page, stack }) => {
  await openDemo(page, stack);
  await page.goto(`${stack.address}/foundry/pictures`);
  await expect(page.getByText('Thistledown letterhead')).toBeVisible();
  await expect(page.getByText(/Young Serif Regular/)).toBeVisible();
  await page.getByRole('link', { name: 'Find a face' }).click();
  await page.getByLabel('Choose a picture').setInputFiles({ name: 'letter.txt', mimeType: 'text/plain', buffer: Buffer.from('Dear all') });
  await expect(page.getByText(/no picture that is read here/)).toBeVisible();
  await page.getByLabel('Choose a picture').setInputFiles({ name: 'fox.jpg', mimeType: 'image/jpeg', buffer: sent() });
  // What the shapes look like is offered, and nothing is taken for granted.
  await expect(page.getByRole('button', { name: 'It may say “Foxglove”' })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('button', { name: 'Find the face' })).toBeDisabled();
  await page.getByLabel('What is written in it').fill('Foxglove');
  await page.getByLabel('What is written in it').press('Enter');
  await expect(page.getByRole('heading', { name: /It is (surely|probably) this face/ })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('heading', { name: 'Literata Regular' })).toBeVisible();
  await expect(page.getByText('SIL Open Font License 1.1, Literata')).toBeVisible();
  await page.getByRole('button', { name: 'Side by side' }).click();
  await expect(page.getByRole('img', { name: 'The face where the picture has its letters' })).toBeVisible();
  await page.getByLabel('Set other words as the picture has them').fill('Marigold');
  await expect(page.getByRole('img', { name: 'Marigold' })).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: /vector shapes/ }).click()]);
  expect(file.suggestedFilename()).toBe('fox.svg');
  // A letter left out, and edits taken back.
  await page.getByRole('button', { name: 'g, compared' }).click();
  await expect(page.getByRole('button', { name: 'g, left out' })).toBeVisible();
  await page.getByRole('button', { name: 'Quarter turn' }).click();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await page.getByRole('button', { name: 'Find the face' }).click();
  await expect(page.getByRole('heading', { name: /surely|probably/ })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('textbox', { name: 'Customer' }).fill('Rowan Florist');
  await page.getByRole('button', { name: 'Keep this inquiry' }).click();
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Customer' })).toHaveValue('Rowan Florist');
  await expect(page.getByRole('heading', { name: 'Literata Regular' })).toBeVisible({ timeout: 30_000 });
  await page.getByRole('button', { name: 'Forget it' }).click();
  await expect(page.getByRole('heading', { name: 'Faces in pictures' })).toBeVisible();
  await expect(page.getByText('Rowan Florist')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('heading', { name: 'fox' })).toBeVisible();
});
