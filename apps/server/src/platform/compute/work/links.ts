import { parse, walk } from 'css-tree';
import { XMLParser } from 'fast-xml-parser';
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

/** Entries of a folder are so many at most. */
const MOST_ENTRIES = 20_000;

/** What a WebDAV folder says lies in it. Source: RFC 4918, 9.1 (PROPFIND) and 14.16 (multistatus). */
export function davAddresses(text: string, at: string): string[] {
  const parser = new XMLParser({
    removeNSPrefix: true,
    ignoreAttributes: true,
    processEntities: true,
    isArray: (name) => name === 'response',
  });
  const { multistatus } = parser.parse(text) as { multistatus?: { response?: { href?: unknown }[] } };
  return (multistatus?.response ?? [])
    .slice(0, MOST_ENTRIES)
    .flatMap(({ href }) => (typeof href === 'string' && URL.canParse(href, at) ? [new URL(href, at).href] : []));
}
