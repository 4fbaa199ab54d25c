import type { Express } from 'express';
import { practicePage } from '../common/faults.js';
import { look } from '../common/look.js';
import { html, page } from '../common/page.js';
import { endingFits, place, protocol } from '../common/protocol.js';
import { Refused } from '../common/refused.js';
import type { Entry, Shelf } from '../common/shelf.js';

const MAX_BYTES = 20 * 1024 * 1024;
const SET = /^[a-z0-9][a-z0-9-]{0,39}$/;
const ROLES = ['headline', 'text', 'accent'] as const;

const same = (a: Pick<Entry, 'family' | 'style'>, b: Pick<Entry, 'family' | 'style'>): boolean =>
  a.family.toLowerCase() === b.family.toLowerCase() && a.style.toLowerCase() === b.style.toLowerCase();

/** Rules of a brand set as a sheet: each of its faces by a name of its own. */
const sheetOf = (faces: readonly Entry[]): string =>
  faces
    .map(
      (f, i) =>
        `@font-face { font-family: "set-${i}"; src: url("shown/${encodeURIComponent(f.name)}"); }\n.face-${i} { font-family: "set-${i}"; }`,
    )
    .join('\n');

function board(set: string, shelf: Shelf): string {
  const faces = shelf.faces(set);
  const roles = ROLES.map((r) => [r, shelf.find(shelf.role(r, set) ?? '', set)] as const).filter(([, f]) => f);
  return `<main>
<h1>Brand set “${html(set)}”</h1>
<nav><a href="/">All sets</a></nav>
<section class="board" aria-label="Board">
<p id="line" class="line${faces.length > 0 ? ' face-0' : ''}" contenteditable="true" spellcheck="false">Sow after the last frost</p>
<form id="setting">
<label>Face <select name="face">${faces.map((f, i) => `<option value="face-${i}">${html(`${f.family} ${f.style}`)}</option>`).join('')}</select></label>
<label>Size <input type="range" name="size" min="12" max="160" value="56"></label>
<label>Spacing <input type="range" name="spacing" min="-10" max="40" value="0"></label>
<label>Color <input type="color" name="color" value="#3b2a55"></label>
</form>
</section>
<section><h2>Faces of this set</h2>
${faces.length === 0 ? '<p>None yet. A face that was uploaded to another set is not seen here.</p>' : `<ul class="faces">${faces.map((f, i) => `<li><span class="face-${i} sample">${html(f.family)}</span> <small>${html(f.style)}, ${html(f.format.toUpperCase())}</small></li>`).join('')}</ul>`}
${roles.length > 0 ? `<h2>Roles</h2><ul>${roles.map(([r, f]) => `<li>${r}: ${html(`${f!.family} ${f!.style}`)}</li>`).join('')}</ul>` : ''}
<p>${shelf.faces().length} of 100 faces in all sets.</p></section>
</main>`;
}

/** An online design tool: brand sets, each with its faces and a board. */
export const createDesignTool = (shelf: Shelf, key: string): Express =>
  place(shelf, (site) => {
    site.use(practicePage(shelf, 'design-tool', () => '', []));
    site.get('/', (_request, response) => {
      const sets = [...new Set(shelf.faces().map((f) => f.part))].sort();
      response
        .type('html')
        .send(
          page(
            'Brand sets',
            'design-tool',
            `<main><h1>Brand sets</h1><ul>${sets.map((s) => `<li><a href="/sets/${s}">${html(s)}</a> (${shelf.faces(s).length})</li>`).join('') || '<li>None yet: the first upload makes one.</li>'}</ul><p>${shelf.faces().length} of 100 faces.</p></main>`,
          ),
        );
    });
    site.param('part', (_request, _response, next, part: string) => {
      next(SET.test(part) ? undefined : new Refused(404, 'A brand set has a name of small letters, figures and hyphens.'));
    });
    site.get('/sets/:part/set.css', (request, response) => void response.type('css').send(sheetOf(shelf.faces(request.params.part))));
    site.get('/sets/:part', (request, response) => {
      const { part } = request.params;
      response
        .type('html')
        .send(
          page(`Brand set ${part}`, 'design-tool', board(part, shelf), { sheets: [`/sets/${part}/set.css`], script: '/assets/board.js' }),
        );
    });
    site.use(
      '/sets/:part',
      protocol(shelf, key, {
        kind: 'design-tool',
        names: /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}\.[A-Za-z0-9]{2,5}$/,
        maxBytes: MAX_BYTES,
        check(_shelf, name, data, part) {
          const { format, faces } = look(data);
          if (format === 'woff2') throw new Refused(415, 'We take TTF, OTF, WOFF and TTC.');
          endingFits(name, format);
          for (const face of faces) {
            if (face.colored) throw new Refused(415, 'Colored fonts cannot be used here.');
            if (face.restricted || face.bitmapsOnly) throw new Refused(403, 'The font does not let itself be embedded.');
            if ([...face.family].length > 64) throw new Refused(422, 'The name of the family has more than 64 letters.');
          }
          const [face] = faces;
          return {
            family: face!.family,
            style: face!.style,
            format,
            instead: shelf
              .faces(part)
              .filter((f) => same(f, face!))
              .map((f) => f.name),
          };
        },
        perUpload: 20,
        most: 100,
        statement: true,
        roles: ROLES,
        types: () => null,
        open: false,
      }),
    );
  });
