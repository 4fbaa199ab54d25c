import express, { Router, type RequestHandler } from 'express';
import { html, page } from './page.js';
import { Refused } from './refused.js';
import type { Shelf } from './shelf.js';

/** Ways in which a place can be broken on purpose. */
export const FAULTS = {
  none: 'It works',
  down: 'It does not answer at all',
  slow: 'It takes three seconds for each answer',
  refuses: 'It refuses files of one type',
  full: 'It is full',
  half: 'It takes one file of an upload and refuses the rest',
  drops: 'It says that it kept a file, and did not',
  corrupts: 'It keeps a file with one byte changed',
  silent: 'It keeps a file and does not answer',
} as const;
export type Fault = keyof typeof FAULTS;

const SLOW = 3000;

export const faultOf = (shelf: Shelf): Fault => {
  const fault = shelf.setting('fault');
  return fault in FAULTS ? (fault as Fault) : 'none';
};

/** Holds up or cuts off every request but those for the page of settings. */
export const weather =
  (shelf: Shelf): RequestHandler =>
  (request, _response, next) => {
    if (request.path.startsWith('/practice')) return next();
    const fault = faultOf(shelf);
    if (fault === 'down') return void request.socket.destroy();
    if (fault === 'slow') return void setTimeout(next, SLOW);
    next();
  };

/** What is wrong with taking a file in this weather. @throws Refused */
export function beforePut(shelf: Shelf, format: string, upload: string): void {
  const fault = faultOf(shelf);
  if (fault === 'full') throw new Refused(507, 'There is no room left here.');
  if (fault === 'refuses' && (shelf.setting('fault-type') || 'woff2') === format)
    throw new Refused(415, `${format.toUpperCase()} files are not taken today.`);
  if (fault === 'half' && shelf.uploaded(upload) >= 1) throw new Refused(503, 'Something went wrong on our side. Try later.');
}

/** The file as it is kept in this weather; null where it is dropped. */
export function asKept(shelf: Shelf, data: Buffer): Buffer | null {
  const fault = faultOf(shelf);
  if (fault === 'drops') return null;
  if (fault !== 'corrupts') return data;
  const copy = Buffer.from(data);
  const at = copy.length - Math.ceil(copy.length / 3);
  copy[at] = copy[at]! ^ 0x55;
  return copy;
}

/** The page on which a place is broken on purpose; `more` are settings of its own, as lines of a form. */
export function practicePage(shelf: Shelf, kind: string, more: () => string, own: readonly string[]): Router {
  const router = Router();
  router.get('/practice', (request, response) => {
    const fault = faultOf(shelf);
    response.type('html').send(
      page(
        'Settings of the practice place',
        kind,
        `<main><h1>Settings</h1>
${request.query.kept === '1' ? '<p role="status">Kept.</p>' : ''}
<form method="post" action="/practice">
${more()}
<fieldset><legend>Broken on purpose</legend>
${Object.entries(FAULTS)
  .map(([id, label]) => `<label><input type="radio" name="fault" value="${id}"${id === fault ? ' checked' : ''}> ${html(label)}</label>`)
  .join('\n')}
<label>The type that it refuses <select name="fault-type">${['woff2', 'woff', 'ttf', 'otf', 'ttc']
          .map((t) => `<option${t === shelf.setting('fault-type') ? ' selected' : ''}>${t}</option>`)
          .join('')}</select></label>
</fieldset>
<button>Keep these settings</button>
</form>
<p><a href="/">To the place</a></p></main>`,
      ),
    );
  });
  router.post('/practice', express.urlencoded({ extended: false, limit: '20kb' }), async (request, response) => {
    const { origin } = request.headers;
    if (origin !== undefined && new URL(origin).host !== request.headers.host)
      throw new Refused(403, 'These settings are changed on their own page.');
    const body = (request.body ?? {}) as Record<string, string | string[] | undefined>;
    const kept: Record<string, string> = {};
    for (const key of ['fault', 'fault-type', ...own]) {
      const value = body[key];
      // Unticked boxes are not sent; the form says which boxes it has.
      if (value !== undefined || body[`has-${key}`] !== undefined) kept[key] = [value ?? []].flat().join(',');
    }
    await shelf.setSettings(kept);
    response.redirect(303, '/practice?kept=1');
  });
  return router;
}
