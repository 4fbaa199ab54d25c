// Takes the pictures of docs/screenshots anew: the demo, from the waiting bundle to the website.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { loadDemo } from '../demo/load.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensureBuild, ROOT, startNode, stopProcess } from './lib/system.mjs';

ensureBuild();
const out = join(ROOT, 'docs/screenshots');
const dir = mkdtempSync(join(tmpdir(), 'shots-'));
const port = 4710;
const address = `http://127.0.0.1:${port}`;
const website = `http://127.0.0.1:${port + 10}`;
const database = await startDatabase({ dir, port: port + 1 });
const site = await startNode(join(ROOT, 'apps/practice/dist/main.js'), {
  PRACTICE_PORT: String(port + 10),
  PRACTICE_WEBSITE_TYPES: 'woff2,woff',
  PRACTICE_DATA_DIR: join(dir, 'practice'),
  PRACTICE_KEY: database.secrets.site,
});
const server = await startNode(join(ROOT, 'apps/server/dist/main.js'), {
  ...database.settings,
  PORT: String(port),
  DATA_DIR: dir,
  WEB_DIR: join(ROOT, 'apps/web/dist'),
  DEMO: '1',
  MIN_FREE_MIB: '64',
  LIMIT_SIGN_UPS: '0',
  PRIVATE_PLACES: '*',
});
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-quic',
    '--no-first-run',
  ],
});
try {
  await loadDemo({ address, website, websiteKey: database.secrets.site, db: database.settings, dataDir: dir });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const shot = async (name, of = page) => {
    await of.waitForLoadState('networkidle');
    await of.waitForFunction(() => document.querySelectorAll('[data-live=loading]').length === 0);
    await of.waitForTimeout(300);
    await of.screenshot({ path: join(out, `${name}.png`) });
  };
  await page.goto(address);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL('**/desk');
  await shot('desk');
  await page.goto(`${address}/intake`);
  await page.getByRole('button', { name: 'Sort it' }).click();
  await page.getByText('every clause word for word').first().waitFor();
  await shot('intake-report');
  await page.getByRole('link', { name: 'Look and confirm' }).first().click();
  await page.getByRole('button', { name: 'Keep this license' }).waitFor();
  await page.getByText('This is the text of').waitFor();
  await shot('license');
  await page.getByRole('checkbox', { name: /I have read the terms/ }).check();
  await page.getByRole('button', { name: 'Keep this license' }).click();
  await page.waitForURL('**/library?face=*');
  await page.getByRole('link', { name: 'Check it for a place' }).waitFor();
  await shot('face');
  await page.getByRole('link', { name: 'Check it for a place' }).click();
  await page.getByRole('button', { name: 'Convert to WOFF2' }).waitFor();
  await page.getByRole('button', { name: 'Convert to WOFF2' }).click();
  await page.getByRole('button', { name: /State this/ }).waitFor();
  await page.getByRole('button', { name: /State this/ }).click();
  await page.getByRole('link', { name: 'Look at it there' }).waitFor();
  await page.goto(`${address}/library?text=${encodeURIComponent('Łubin żółty i groszek')}`);
  await page.getByRole('list', { name: /famil/ }).waitFor();
  await shot('library');
  const { families } = await (await page.request.get(`${address}/api/families`)).json();
  const lead = (name) => families.find((f) => f.name === name).leadFaceId;
  await page.goto(`${address}/library/text`);
  await page.getByLabel('Text to check').fill("Łubin żółty, 14,50 zł\nНасіння квітів, Ffa o'r ardd, ضوء");
  await page.getByText('Which faces').waitFor();
  await page.getByText('Looks right and is not').waitFor();
  await shot('text-check');
  await page.goto(`${address}/library/characters?face=${lead('Literata')}`);
  await page.getByRole('button', { name: 'U+0067 g' }).click();
  await page.getByRole('img', { name: /Outline/ }).waitFor();
  await shot('characters');
  await page.goto(`${address}/library/try?face=${lead('Literata')}&text=Crimson-flowered%20bean&on=smcp,onum`);
  await page.getByText('Small capitals', { exact: true }).waitFor();
  await shot('try');
  await page.goto(`${address}/library/family/${families.find((f) => f.name === 'Literata').id}`);
  await page.getByRole('columnheader', { name: 'Italic' }).waitFor();
  await shot('family');
  await page.goto(`${address}/library/languages?face=${lead('Young Serif')}&language=el`);
  await page.getByText(/Adding Greek would need/).waitFor();
  await shot('languages');
  const [asked] = await (await page.request.get(`${address}/api/inquiries`)).json();
  await page.goto(`${address}/foundry/pictures/${asked.id}`);
  await page.getByText(/It is (surely|probably) this face/).waitFor();
  await page.getByRole('button', { name: 'Edges' }).click();
  await shot('picture');
  await page.goto(`${address}/licenses`);
  await page.getByRole('img', { name: /Terms of/ }).waitFor();
  await shot('licenses');
  const [icons] = await (await page.request.get(`${address}/api/icon-sets`)).json();
  await page.goto(`${address}/foundry/icons/${icons.id}`);
  await page.getByRole('option', { name: /^berry/ }).click();
  await page.getByText('It has 3 colors').waitFor();
  await shot('icon-set');
  const [drawn] = await (await page.request.get(`${address}/api/typefaces`)).json();
  await page.goto(`${address}/foundry/typefaces/${drawn.id}`);
  await page.getByRole('option', { name: /^ń, composed/ }).click();
  await page.getByText('Made of n and').waitFor();
  await shot('typeface');
  await page.goto(`${address}/foundry?to=otf&with=own&faces=${['Literata', 'Atkinson Hyperlegible Next', 'Caveat'].map(lead).join(',')}`);
  await page.getByRole('button', { name: 'Convert 2 faces' }).click();
  await page.getByText('All that may be converted is made.').waitFor();
  await shot('convert');
  await page.goto(`${address}/licenses/audit?day=${new Date(Date.now() + 90 * 86_400_000).toISOString().slice(0, 10)}`);
  await page.getByText('Tide Marker Regular').waitFor();
  await shot('audit');
  await page.goto(`${address}/places`);
  await page.getByText('all in place').first().waitFor();
  await shot('places');
  const places = await (await page.request.get(`${address}/api/places`)).json();
  const place = (name) => places.find((p) => p.name === name).id;
  await page.goto(`${address}/places/${place('Apron printers')}`);
  await page.getByText('What it takes').waitFor();
  await shot('place');
  const several = ['Literata', 'Gochi Hand', 'Noto Sans Arabic', 'Rowan Block', 'Young Serif', 'Be Vietnam Pro'].map(lead);
  const table = { faces: several.join(','), places: places.map((p) => p.id).join(',') };
  table.look = `${lead('Noto Sans Arabic').slice(0, 8)}.${place('Apron printers').slice(0, 8)}`;
  await page.goto(`${address}/places/check?${new URLSearchParams(table)}`);
  await page.getByText('The letters of this face join').waitFor();
  await shot('preflight');
} finally {
  await browser.close();
  await stopProcess(server);
  await stopProcess(site);
  await database.stop();
  rmSync(dir, { recursive: true, force: true });
}
