import express, { type Express } from 'express';
import { practicePage } from '../common/faults.js';
import { look } from '../common/look.js';
import { html, page } from '../common/page.js';
import { endingFits, place, protocol } from '../common/protocol.js';
import { Refused } from '../common/refused.js';
import type { Shelf } from '../common/shelf.js';

const MAX_BYTES = 512 * 1024;
const ROLES = ['headings', 'text', 'buttons'] as const;
type Role = (typeof ROLES)[number];

const GOODS = [
  { id: 'broad-bean', name: 'Crimson-flowered broad bean', note: 'Sow October or March, 20 cm apart.', price: '£3.20' },
  { id: 'blue-nigella', name: 'Blue love-in-a-mist', note: 'Scatter where it is to flower.', price: '£2.20' },
  { id: 'tote', name: 'Tote bag “Sow, water, wait”', note: 'Undyed cotton, printed in one color.', price: '£11.00' },
] as const;

interface Given {
  family: string;
  address: string;
}
const given = (shelf: Shelf, role: Role): Given | null => {
  const family = shelf.setting(`${role}-family`);
  const address = shelf.setting(`${role}-address`);
  return family && address ? { family, address } : null;
};
const on = (shelf: Shelf): boolean => shelf.setting('on') === 'on';

/** A name and an address as somebody enters them. @throws Refused */
function entered(family: unknown, address: unknown): Given {
  if (typeof family !== 'string' || family.trim() === '' || [...family].length > 64)
    throw new Refused(422, 'A family has a name of 1 to 64 letters.');
  if (typeof address !== 'string' || !/^(https?:\/\/[^\s"'()\\]+|\/[^\s"'()\\]+)\.woff2$/i.test(address))
    throw new Refused(422, 'The address of a WOFF2 file begins with https:// or http:// and ends in .woff2.');
  return { family: family.trim().replace(/["\\\n<>]/g, ''), address };
}

const sheet = (shelf: Shelf): string =>
  ROLES.flatMap((role) => {
    const font = given(shelf, role);
    return font
      ? [
          `@font-face { font-family: "${font.family}"; font-display: swap; src: url("${font.address}") format("woff2"); }\n:root { --${role}: "${font.family}"; }`,
        ]
      : [];
  }).join('\n');

const settings = (shelf: Shelf): string => `<fieldset><legend>Type</legend>
<input type="hidden" name="has-on" value="1">
<label><input type="checkbox" name="on" value="on"${on(shelf) ? ' checked' : ''}> Show our own faces</label>
</fieldset>`;

/** An online store: product pages, and a name with an address for each role. */
export const createStore = (shelf: Shelf, key: string): Express =>
  place(
    shelf,
    (site) => {
      site.use(practicePage(shelf, 'store', () => settings(shelf), ['on']));
      const typeForm = (message = ''): string =>
        page(
          'Type of the store',
          'store',
          `<main><h1>Type of the store</h1>${message ? `<p role="status">${html(message)}</p>` : ''}
<form method="post" action="/type">
${ROLES.map((role) => `<fieldset><legend>${role}</legend><label>Name <input name="${role}-family" value="${html(shelf.setting(`${role}-family`))}"></label> <label>Address of the WOFF2 <input name="${role}-address" value="${html(shelf.setting(`${role}-address`))}"></label></fieldset>`).join('\n')}
<button>Keep</button></form><p><a href="/">To the store</a></p></main>`,
        );
      site.get('/type', (_request, response) => void response.type('html').send(typeForm()));
      site.post('/type', express.urlencoded({ extended: false, limit: '20kb' }), async (request, response) => {
        const body = (request.body ?? {}) as Record<string, string>;
        const kept: Record<string, string> = {};
        try {
          for (const role of ROLES) {
            const [family, address] = [body[`${role}-family`] ?? '', body[`${role}-address`] ?? ''];
            const font = family === '' && address === '' ? { family: '', address: '' } : entered(family, address);
            kept[`${role}-family`] = font.family;
            kept[`${role}-address`] = font.address;
          }
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
          return void response.status(error.status).type('html').send(typeForm(error.message));
        }
        await shelf.setSettings(kept);
        response.type('html').send(typeForm('Kept.'));
      });
      site.use(
        protocol(shelf, key, {
          kind: 'store',
          names: /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.[A-Za-z0-9]{2,5}$/,
          maxBytes: MAX_BYTES,
          check(_shelf, name, data) {
            const { format, faces } = look(data);
            if (format !== 'woff2') throw new Refused(415, 'Only WOFF2 files can be given to the store.');
            endingFits(name, format);
            const [face] = faces;
            if (face!.restricted || face!.bitmapsOnly) throw new Refused(403, 'The font does not let itself be embedded.');
            if ([...face!.family].length > 64) throw new Refused(422, 'The name of the family has more than 64 letters.');
            return { family: face!.family, style: face!.style, format };
          },
          perUpload: null,
          most: 30,
          statement: false,
          roles: ROLES,
          types: () => null,
          open: true,
          async assign(_shelf, role, name) {
            const entry = name === null ? null : shelf.find(name);
            const font = entry ? entered(entry.family, `/fonts/${entry.name}`) : { family: '', address: '' };
            await shelf.setSettings({ [`${role}-family`]: font.family, [`${role}-address`]: font.address, on: 'on' });
            await shelf.setRole(role, name);
          },
        }),
      );
      site.get('/type.css', (_request, response) => {
        response.setHeader('Cache-Control', 'no-cache');
        response.type('css').send(on(shelf) ? sheet(shelf) : '/* Own faces are switched off. */');
      });
      const goods = (one: (typeof GOODS)[number]): string =>
        `<article><h2><a href="/goods/${one.id}">${html(one.name)}</a></h2><p>${html(one.note)}</p><p>${one.price} <button type="button">Add to basket</button></p></article>`;
      site.get('/', (_request, response) => {
        response.type('html').send(
          page(
            'Hollin Bank Seeds, store',
            'store',
            `<main class="goods"><h1>Hollin Bank Seeds</h1>${GOODS.map(goods).join('')}<p><a href="/type">Type of the store</a></p></main>`,
            {
              sheets: ['/type.css'],
            },
          ),
        );
      });
      site.get('/goods/:id', (request, response) => {
        const one = GOODS.find((g) => g.id === request.params.id);
        if (!one) throw new Refused(404, 'There is no such thing in the store.');
        response
          .type('html')
          .send(
            page(one.name, 'store', `<main class="goods">${goods(one)}<p><a href="/">All goods</a></p></main>`, { sheets: ['/type.css'] }),
          );
      });
    },
    { fontsFrom: '*' },
  );
