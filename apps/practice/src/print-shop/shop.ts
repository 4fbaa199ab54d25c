import express, { type Express } from 'express';
import { practicePage } from '../common/faults.js';
import { drawn, look } from '../common/look.js';
import { html, page } from '../common/page.js';
import { decoded, endingFits, place, protocol } from '../common/protocol.js';
import { Refused } from '../common/refused.js';
import type { Entry, Shelf } from '../common/shelf.js';

const MAX_BYTES = 5 * 1024 * 1024;
const KINDS = ['plain', 'with feet', 'handwriting', 'display'] as const;
const kindOf = (value: string): string => (KINDS as readonly string[]).find((k) => k === value) ?? 'plain';

const sheet = (faces: readonly Entry[]): string =>
  faces
    .map(
      (f) =>
        `@font-face { font-family: "${f.sha256.slice(0, 12)}"; src: url("/shown/${encodeURIComponent(f.name)}"); }\n.f-${f.sha256.slice(0, 12)} { font-family: "${f.sha256.slice(0, 12)}"; }`,
    )
    .join('\n');
const className = (f: Entry): string => `f-${f.sha256.slice(0, 12)}`;

/** A print shop: an office in which faces are kept by kinds, and a page on which customers type. */
export const createPrintShop = (shelf: Shelf, key: string): Express =>
  place(shelf, (site) => {
    site.use(practicePage(shelf, 'print-shop', () => '', []));
    const kindOfFace = (f: Entry): string => kindOf(shelf.setting(`kind ${f.name}`));
    site.get('/faces.css', (_request, response) => void response.type('css').send(sheet(shelf.faces().filter((f) => f.offered))));
    site.get('/', (_request, response) => {
      const offered = shelf.faces().filter((f) => f.offered);
      response.type('html').send(
        page(
          'Your words on an apron',
          'print-shop',
          `<main><h1>Your words, printed</h1>
<form id="order"><label>Your words <input name="words" value="Grown with patience" maxlength="60"></label>
<label>On <select name="on"><option value="apron">an apron</option><option value="packet">a packet</option></select></label>
<fieldset><legend>Face</legend>${offered.map((f, i) => `<label><input type="radio" name="face" value="${className(f)}"${i === 0 ? ' checked' : ''}> <span class="${className(f)}">${html(f.family)}</span></label>`).join('') || 'No face is offered at present.'}</fieldset></form>
<div id="thing" class="thing apron"><p id="print" class="${offered[0] ? className(offered[0]) : ''}">Grown with patience</p></div></main>`,
          { sheets: ['/faces.css'], script: '/assets/order.js' },
        ),
      );
    });
    site.get('/office', (_request, response) => {
      response.type('html').send(
        page(
          'Office',
          'print-shop',
          `<main><h1>Faces for customers</h1>${KINDS.map((kind) => {
            const faces = shelf.faces().filter((f) => kindOfFace(f) === kind);
            return `<section><h2>${kind} (${faces.length})</h2><ul class="faces">${faces
              .map(
                (f) =>
                  `<li><img src="/previews/${encodeURIComponent(f.name)}" alt="${html(f.family)}" height="32"> <b>${html(f.family)}</b> ${html(f.style)} — ${f.offered ? 'offered' : 'withheld'}</li>`,
              )
              .join('')}</ul></section>`;
          }).join('')}<p><a href="/">What customers see</a></p></main>`,
        ),
      );
    });
    site.get('/previews/:name', async (request, response) => {
      const entry = shelf.find(String(request.params.name));
      if (!entry) throw new Refused(404, 'There is no such font here.');
      response.type('image/svg+xml').send(drawn(await shelf.read(entry), entry.family));
    });
    site.use(
      protocol(shelf, key, {
        kind: 'print-shop',
        names: /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.[A-Za-z0-9]{2,5}$/,
        maxBytes: MAX_BYTES,
        check(_shelf, name, data) {
          const { format, faces } = look(data);
          if (format !== 'ttf' && format !== 'otf') throw new Refused(415, 'We print from TTF and OTF files only.');
          endingFits(name, format);
          const face = faces[0]!;
          if (face.colored) throw new Refused(415, 'We print in one color; this font is colored.');
          if (face.variable) throw new Refused(415, 'Our machines take no variable fonts.');
          if (face.restricted || face.bitmapsOnly) throw new Refused(403, 'The font does not let itself be embedded.');
          if (face.family === '' || [...face.family].length > 40)
            throw new Refused(422, 'The name in the file has to have 1 to 40 letters.');
          const twin = shelf
            .faces()
            .find(
              (f) =>
                f.name !== name &&
                f.family.toLowerCase() === face.family.toLowerCase() &&
                f.style.toLowerCase() === face.style.toLowerCase(),
            );
          if (twin) throw new Refused(409, `${face.family} ${face.style} is on the list already. Remove it first.`);
          // The picture for the list is drawn from the file; what cannot be drawn cannot be printed.
          drawn(data, 'Abc');
          return { family: face.family, style: face.style, format };
        },
        perUpload: 25,
        most: 200,
        statement: true,
        roles: ['offered', 'withheld'],
        types: () => null,
        open: false,
        async assign(_shelf, role, name) {
          if (name !== null) await shelf.change(name, '', { offered: role === 'offered' });
        },
      }),
    );
    site.put('/order', express.json(), async (request, response) => {
      if (request.headers.authorization !== `Bearer ${key}`) throw new Refused(401, 'The key is wrong or missing.');
      const { fonts } = (request.body ?? {}) as { fonts?: unknown };
      if (!Array.isArray(fonts) || fonts.length > 200 || !fonts.every((f) => typeof f === 'string'))
        throw new Refused(422, 'An order is a list of names.');
      const unknown = fonts.find((f) => !shelf.find(f));
      if (unknown !== undefined) throw new Refused(404, 'There is no such font here.');
      await shelf.setOrder(fonts);
      response.json({ fonts: shelf.faces().map((f) => f.name) });
    });
    site.put('/kinds/:name', express.json(), async (request, response) => {
      if (request.headers.authorization !== `Bearer ${key}`) throw new Refused(401, 'The key is wrong or missing.');
      const name = decoded(request.params.name, 'name');
      const { kind } = (request.body ?? {}) as { kind?: unknown };
      if (!shelf.find(name)) throw new Refused(404, 'There is no such font here.');
      if (!(KINDS as readonly unknown[]).includes(kind)) throw new Refused(422, `A kind is one of ${KINDS.join(', ')}.`);
      await shelf.setSettings({ [`kind ${name}`]: String(kind) });
      response.json({ name, kind });
    });
  });
