import express, { type Express } from 'express';
import { practicePage } from '../common/faults.js';
import { look } from '../common/look.js';
import { html, page } from '../common/page.js';
import { endingFits, place, protocol } from '../common/protocol.js';
import { Refused } from '../common/refused.js';
import type { Entry, Shelf } from '../common/shelf.js';

const MAX_BYTES = 100 * 1024 * 1024;
const PROGRAMS = { letters: 'Letter writer', cutter: 'Cutting table' } as const;

/** What a program lists: what lay in the folder when it was started. */
const listed = (shelf: Shelf, program: string): string[] => shelf.setting(`listed ${program}`).split('\n').filter(Boolean);

/** A computer: a fonts folder, and programs that look at it when they start. */
export const createComputer = (shelf: Shelf, key: string): Express =>
  place(shelf, (site) => {
    site.use(practicePage(shelf, 'computer', () => '', []));
    // A face shows the first file of its names that was put there, until that one is removed.
    const shows = (): Entry[] => {
      const first = new Map<string, Entry>();
      for (const f of shelf.faces()) {
        const id = `${f.family} ${f.style}`.toLowerCase();
        if (!first.has(id)) first.set(id, f);
      }
      return [...first.values()];
    };
    site.get(
      '/fonts.css',
      (_request, response) =>
        void response.type('css').send(
          shows()
            .map(
              (f) =>
                `@font-face { font-family: "${f.sha256.slice(0, 12)}"; src: url("/shown/${encodeURIComponent(f.name)}"); }\n.f-${f.sha256.slice(0, 12)} { font-family: "${f.sha256.slice(0, 12)}"; }`,
            )
            .join('\n'),
        ),
    );
    site.get('/', (_request, response) => {
      const now = new Map(shows().map((f) => [`${f.family} ${f.style}`, f]));
      response.type('html').send(
        page(
          'A computer',
          'computer',
          `<main><h1>The computer in the loft</h1>
<section><h2>Fonts folder</h2><ul>${
            shelf
              .faces()
              .map((f) => `<li>${html(f.name)} <small>${html(`${f.family} ${f.style}`)}</small></li>`)
              .join('') || '<li>Empty</li>'
          }</ul></section>
${Object.entries(PROGRAMS)
  .map(
    ([id, name]) => `<section class="program"><h2>${name}</h2>
<form method="post" action="/programs/${id}"><button>Start ${name} again</button></form>
<label>Font <select data-for="${id}">${listed(shelf, id)
      .map((n) => `<option value="${now.has(n) ? `f-${now.get(n)!.sha256.slice(0, 12)}` : ''}">${html(n)}</option>`)
      .join('')}</select></label>
<p id="${id}" class="line" ${id === 'letters' ? 'contenteditable="true"' : 'data-paste-only="1" contenteditable="true"'}>${id === 'letters' ? 'Dear gardener' : 'Paste characters here'}</p></section>`,
  )
  .join('')}</main>`,
          { sheets: ['/fonts.css'], script: '/assets/programs.js' },
        ),
      );
    });
    site.post('/programs/:id', express.urlencoded({ extended: false }), async (request, response) => {
      const id = String(request.params.id);
      if (!(id in PROGRAMS)) throw new Refused(404, 'There is no such program.');
      await shelf.setSettings({
        [`listed ${id}`]: shows()
          .map((f) => `${f.family} ${f.style}`)
          .join('\n'),
      });
      response.redirect(303, '/');
    });
    site.use(
      protocol(shelf, key, {
        kind: 'computer',
        names: /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.[A-Za-z0-9]{2,5}$/,
        maxBytes: MAX_BYTES,
        check(_shelf, name, data) {
          const { format, faces } = look(data);
          if (format === 'woff' || format === 'woff2') throw new Refused(415, 'Computers install TTF, OTF and TTC files.');
          endingFits(name, format);
          const [face] = faces;
          const twin = shelf
            .faces()
            .find(
              (f) =>
                f.name !== name &&
                f.family.toLowerCase() === face!.family.toLowerCase() &&
                f.style.toLowerCase() === face!.style.toLowerCase(),
            );
          if (twin) throw new Refused(409, `${face!.family} ${face!.style} is installed already, as ${twin.name}. Remove it first.`);
          return { family: face!.family, style: face!.style, format };
        },
        perUpload: null,
        most: null,
        statement: false,
        roles: [],
        types: () => null,
        open: false,
      }),
    );
  });
