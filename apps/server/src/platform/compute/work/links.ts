import { parse, walk } from 'css-tree';
import { parse as parsePage } from 'node-html-parser';

/** A page loads so many style sheets at most, and a sheet so many fonts; what goes beyond is left out. */
const MOST = 200;

/** Addresses of fonts that the @font-face rules of a style sheet load. Source: CSS Fonts Module Level 4, 4.3 (src). */
export function fontAddresses(sheet: string, at: string): string[] {
  const out: string[] = [];
  walk(parse(sheet, { parseCustomProperty: false, onParseError: () => undefined }), {
    visit: 'Atrule',
    enter(rule) {
      if (rule.name.toLowerCase() !== 'font-face' || !rule.block) return;
      walk(rule.block, {
        visit: 'Url',
        enter(url) {
          if (out.length < MOST && URL.canParse(url.value, at)) out.push(new URL(url.value, at).href);
        },
      });
    },
  });
  return out;
}

/** Style sheets that a page loads. Source: HTML Living Standard, 4.6.7.22 (stylesheet). */
export const sheetAddresses = (page: string, at: string): string[] =>
  parsePage(page)
    .querySelectorAll('link')
    .filter((link) => (link.getAttribute('rel') ?? '').toLowerCase().split(/\s+/).includes('stylesheet'))
    .slice(0, MOST)
    .flatMap((link) => {
      const href = link.getAttribute('href');
      return href !== undefined && URL.canParse(href, at) ? [new URL(href, at).href] : [];
    });
