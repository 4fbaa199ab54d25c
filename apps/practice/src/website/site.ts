import express, { type Express } from 'express';
import { practicePage } from '../common/faults.js';
import { iconsIn, look } from '../common/look.js';
import { place, protocol } from '../common/protocol.js';
import { Refused } from '../common/refused.js';
import type { Shelf } from '../common/shelf.js';
import { menuOf, menuPage, shopPage, stylesheet } from './page.js';
import { checkFont, MAX_BYTES } from './unpack.js';

export const SHEETS = { beside: '/fonts.css', above: '/css/fonts.css', deep: '/assets/type/fonts.css' } as const;
/** Where the fonts folder lies as seen from the style sheet. */
export const FROM_SHEET = { beside: 'fonts/', above: '../fonts/', deep: '../../fonts/' } as const;
export type Layout = keyof typeof SHEETS;
export const layoutOf = (shelf: Shelf): Layout => {
  const layout = shelf.setting('layout');
  return layout in SHEETS ? (layout as Layout) : 'beside';
};
const allowed = (shelf: Shelf): string[] => shelf.setting('types').split(',').filter(Boolean);
const ROLES = ['headings', 'text', 'icons'] as const;

const settings = (shelf: Shelf): string => `<fieldset><legend>File types that are served</legend>
<input type="hidden" name="has-types" value="1">
${['woff2', 'woff', 'pdf', 'zip'].map((t) => `<label><input type="checkbox" name="types" value="${t}"${allowed(shelf).includes(t) ? ' checked' : ''}> .${t}</label>`).join('\n')}
</fieldset>
<fieldset><legend>Where the style sheet lies</legend>
${(Object.keys(SHEETS) as Layout[]).map((l) => `<label><input type="radio" name="layout" value="${l}"${l === layoutOf(shelf) ? ' checked' : ''}> ${SHEETS[l]}, with the fonts at ${FROM_SHEET[l]}</label>`).join('\n')}
</fieldset>`;

/** The shop's website: pages for visitors, and for whoever holds the key a place to put fonts. */
export function createWebsite(shelf: Shelf, key: string): Express {
  const mayServe = (format: string): void => {
    if (!allowed(shelf).includes(format))
      throw new Refused(403, `Files of the type .${format} are not served here. Allow the type in the settings of the site first.`);
  };
  return place(shelf, (site) => {
    site.use(practicePage(shelf, 'website', () => settings(shelf), ['types', 'layout']));
    site.use(
      protocol(shelf, key, {
        kind: 'website',
        names: /^[A-Za-z0-9][A-Za-z0-9._-]{0,120}\.(woff2?|ttf|otf|ttc|zip)$/i,
        maxBytes: MAX_BYTES,
        check(_shelf, name, data) {
          const format = checkFont(data);
          if (!name.endsWith(`.${format}`)) throw new Refused(415, `The name ends in another type than the file is (${format}).`);
          mayServe(format);
          const [face] = look(data).faces;
          return { family: face!.family, style: face!.style, format };
        },
        perUpload: null,
        most: null,
        statement: false,
        roles: ROLES,
        types: allowed,
        open: true,
        serve: (_shelf, entry) => mayServe(entry.format),
      }),
    );
    for (const layout of Object.keys(SHEETS) as Layout[])
      site.get(SHEETS[layout], (_request, response, next) => {
        if (layout !== layoutOf(shelf)) return next();
        response.setHeader('Cache-Control', 'no-cache');
        response.type('css').send(stylesheet(shelf, FROM_SHEET[layout]));
      });
    site.get('/menu', async (_request, response) => {
      const icons = shelf.find(shelf.role('icons') ?? '');
      const found = icons ? iconsIn(await shelf.read(icons)) : [];
      response.type('html').send(menuPage(shelf, found, SHEETS[layoutOf(shelf)]));
    });
    site.post('/menu', express.urlencoded({ extended: false, limit: '20kb' }), async (request, response) => {
      const given = (request.body ?? {}) as Record<string, unknown>;
      const settings: Record<string, string> = {};
      for (const [i] of menuOf(shelf).entries())
        for (const what of ['icon', 'size', 'color', 'hover', 'link'])
          settings[`menu ${i} ${what}`] = String(given[`${what}${i}`] ?? '').slice(0, 300);
      await shelf.setSettings(settings);
      response.redirect(303, '/menu');
    });
    site.get('/', (_request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      response.type('html').send(shopPage(shelf, SHEETS[layoutOf(shelf)]));
    });
  });
}
