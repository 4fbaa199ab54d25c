import { FontError } from '../../../sfnt/index.js';
import { readTree, within, written, type Element } from './tree.js';

/** An address that does not lead to an element of the same file. */
const OUTSIDE = /url\((?!\s*(?:['"]\s*)?#)/i;

/** Rules without what they fetch, in one walk along the text; what is begun and never ended goes to the text's end. */
function withoutOutside(css: string): string {
  let out = '';
  let at = 0;
  for (const match of css.matchAll(/@import|url\((?!\s*(?:['"]\s*)?#)/gi)) {
    if (match.index < at) continue;
    out += css.slice(at, match.index);
    const end = css.indexOf(match[0].startsWith('@') ? ';' : ')', match.index);
    at = end < 0 ? css.length : end + 1;
  }
  return out + css.slice(at);
}

/** What of an SVG is not in what is made of it, or may not be: found in the source, since some of it goes without a word later. */
export type SourceLoss =
  | 'script'
  | 'external'
  | 'animation'
  | 'css-variables'
  | 'media-queries'
  | 'foreign-object'
  | 'fixed-stroke'
  | 'text'
  | 'blend'
  | 'marker-missing'
  | 'broken-path';

/** A drawing as it is kept: nothing in it runs or is fetched. */
export interface Source {
  /** SVG text that draws the same. */
  svg: string;
  losses: SourceLoss[];
  /** Whether text stands in it, which needs the faces it is set in. */
  families: string[];
}

/** Elements of SVG 1.1 and 2 that draw, or say how. */
const KNOWN = new Set(
  (
    'svg g defs symbol use switch a view style title path rect circle ellipse line polyline polygon text tspan textPath clipPath mask marker ' +
    'pattern linearGradient radialGradient stop filter image'
  ).split(' '),
);
const isFilter = (name: string): boolean => /^fe[A-Z]/.test(name);
const ANIMATED = new Set(['animate', 'animateTransform', 'animateMotion', 'animateColor', 'set', 'mpath']);

/** A reference within the same text, or a picture that lies in it. */
const isInside = (value: string): boolean => /^\s*(#|data:image\/(png|jpe?g|gif|webp);base64,)/i.test(value);

/**
 * Reads a drawing and leaves out what could run or be fetched. Custom properties of CSS are put in by their fallback or by the only
 * value given to them, since what draws later knows none.
 * @throws FontError in words when it is no drawing
 */
export function readSource(text: string): Source {
  return cleaned(readTree(text));
}

/**
 * As `readSource`, of elements that were read.
 * @throws FontError when the outermost element is none of SVG
 */
export function cleaned(root: Element): Source {
  const losses = new Set<SourceLoss>();
  const families = new Set<string>();
  const custom = customProperties(root);
  const settled = (css: string): string => {
    if (!/var\s*\(/.test(css)) return css;
    losses.add('css-variables');
    return resolved(css, custom);
  };
  const visit = ({ name, attributes, children, text }: Element): Element[] => {
    if (ANIMATED.has(name)) losses.add('animation');
    if (name === 'script') losses.add('script');
    if (name === 'foreignObject') losses.add('foreign-object');
    if (!KNOWN.has(name) && !isFilter(name)) return [];
    const kept: Record<string, string> = {};
    for (const [given, value] of Object.entries(attributes)) {
      const key = given.slice(given.indexOf(':') + 1);
      const prefix = given.includes(':') ? given.slice(0, given.indexOf(':')) : '';
      if (/^on/i.test(key)) {
        losses.add('script');
        continue;
      }
      if (prefix === 'xmlns' || given === 'xmlns' || (prefix !== '' && prefix !== 'xlink' && given !== 'xml:space')) continue;
      if (key === 'href') {
        if (isInside(value)) kept.href = value.trim();
        else if (name !== 'a') losses.add('external');
        continue;
      }
      if (OUTSIDE.test(value)) {
        losses.add('external');
        continue;
      }
      kept[given] = settled(value);
    }
    const style = kept.style ?? '';
    if (kept['vector-effect'] === 'non-scaling-stroke' || /vector-effect\s*:\s*non-scaling-stroke/.test(style)) losses.add('fixed-stroke');
    if (/mix-blend-mode\s*:\s*(?!normal)/.test(style) || (kept['mix-blend-mode'] ?? 'normal') !== 'normal') losses.add('blend');
    if (name === 'text' || name === 'tspan') {
      const family = kept['font-family'] ?? /font-family\s*:\s*([^;]+)/.exec(style)?.[1];
      for (const one of (family ?? '').split(',')) if (one.trim() !== '') families.add(one.trim().replace(/^['"]|['"]$/g, ''));
      if (text.trim() !== '') losses.add('text');
    }
    if (name === 'path' && kept.d !== undefined && !isPath(kept.d)) losses.add('broken-path');
    let css = text;
    if (name === 'style') {
      if (/@media/.test(text)) losses.add('media-queries');
      if (/@keyframes|animation\s*:/.test(text)) losses.add('animation');
      if (/@import/i.test(text) || OUTSIDE.test(text)) losses.add('external');
      if (/vector-effect\s*:\s*non-scaling-stroke/.test(text)) losses.add('fixed-stroke');
      if (/mix-blend-mode\s*:\s*(?!normal)/.test(text)) losses.add('blend');
      // Rules under a condition would hold always for a reader that knows no conditions.
      css = withoutOutside(settled(withoutConditions(text)));
      for (const [, family] of text.matchAll(/font-family\s*:\s*([^;}]+)/g))
        for (const one of family!.split(',')) families.add(one.trim().replace(/^['"]|['"]$/g, ''));
    }
    return [{ name, attributes: kept, children: children.flatMap(visit), text: css }];
  };
  const [clean] = visit(root);
  if (!clean) throw new FontError('bad-table', 'This is no SVG.');
  clean.attributes.xmlns = 'http://www.w3.org/2000/svg';
  return { svg: written(clean), losses: [...losses], families: [...families].slice(0, 20) };
}

/** Whether path data is read to its end. Source: SVG 2, 9.3.9, the grammar of path data; its letters only are looked at. */
const isPath = (d: string): boolean => d.trim() === '' || d.trim() === 'none' || /^\s*[Mm][\s,MmZzLlHhVvCcSsQqTtAa\d.eE+-]*$/.test(d);

/** Values of custom properties where each has one; a property with several values has none here. */
function customProperties(root: Element): Map<string, string> {
  const out = new Map<string, string>();
  const note = (css: string): void => {
    for (const [, name, value] of css.matchAll(/(--[\w-]{1,80})\s*:\s*([^;{}]{1,200})/g)) {
      const known = out.get(name!);
      out.set(name!, known === undefined || known === value!.trim() ? value!.trim() : '');
    }
  };
  for (const element of within(root)) {
    if (element.name === 'style') note(element.text);
    note(element.attributes.style ?? '');
  }
  return out;
}

/** CSS with custom properties put in: their value, else the fallback, else black as an unset color is. */
function resolved(css: string, custom: ReadonlyMap<string, string>): string {
  let out = css;
  // Fallbacks may hold further ones; each round puts in the innermost.
  for (let round = 0; round < 5 && /var\s*\(/.test(out); round++)
    out = out.replace(
      /var\(\s*(--[\w-]{1,80})\s*(?:,([^()]{0,200}(?:\([^()]{0,200}\)[^()]{0,200})?))?\)/g,
      (_, name: string, fallback?: string) => {
        const value = custom.get(name);
        return value !== undefined && value !== '' ? value : (fallback?.trim() ?? 'currentColor');
      },
    );
  return out;
}

/** A style sheet without what holds on some screens only, or moves. */
function withoutConditions(css: string): string {
  const rule = /@(?:media|supports|keyframes|font-face|container)\b/g;
  let out = '';
  let at = 0;
  for (;;) {
    rule.lastIndex = at;
    const found = rule.exec(css);
    if (!found) return out + css.slice(at);
    out += css.slice(at, found.index);
    let depth = 0;
    let i = css.indexOf('{', found.index);
    if (i < 0) return out;
    for (; i < css.length; i++) {
      if (css[i] === '{') depth++;
      else if (css[i] === '}' && --depth === 0) break;
    }
    at = i + 1;
  }
}

/** A part of a text that is a drawing of its own. */
export interface Board {
  /** What the text calls it; empty where nothing does. */
  name: string;
  source: Source;
}

/**
 * The drawings in a text: one, or as many as it has symbols or views, when it draws nothing else; or one a group, on request.
 * @throws FontError in words when it is no drawing
 */
export function readBoards(text: string, by: 'itself' | 'groups' = 'itself'): Board[] {
  const root = readTree(text);
  const elements = [...within(root)];
  const shared = root.children.filter((e) => e.name === 'defs' || e.name === 'style');
  const title = (e: Element): string => e.attributes.id ?? e.children.find((c) => c.name === 'title')?.text.trim() ?? '';
  const part = (attributes: Record<string, string>, children: Element[]): Source =>
    cleaned({ name: 'svg', attributes: { ...inherited(root), ...attributes }, children, text: '' });
  const views = elements.filter((e) => e.name === 'view' && e.attributes.viewBox);
  if (views.length > 0)
    return views.map((v) => {
      const [, , w, h] = v.attributes
        .viewBox!.trim()
        .split(/[\s,]+/)
        .map(Number);
      const size = { viewBox: v.attributes.viewBox!, width: String(w), height: String(h) };
      return {
        name: title(v),
        source: part(
          size,
          root.children.filter((c) => c.name !== 'view'),
        ),
      };
    });
  const symbols = elements.filter((e) => e.name === 'symbol' && (e.attributes.viewBox ?? root.attributes.viewBox));
  const uses = elements.filter((e) => e.name === 'use');
  const draws = root.children.some((e) => !['defs', 'symbol', 'style', 'title', 'metadata', 'desc'].includes(e.name));
  if (symbols.length > 0 && (!draws || uses.length === 0))
    return symbols.map((s) => {
      const viewBox = s.attributes.viewBox ?? root.attributes.viewBox!;
      const [, , w, h] = viewBox
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      const group: Element = { name: 'g', attributes: inherited(s), children: s.children, text: '' };
      return { name: title(s), source: part({ viewBox, width: String(w), height: String(h) }, [...shared, group]) };
    });
  const groups = root.children.filter((e) => e.name === 'g' || e.name === 'svg');
  if (by === 'groups' && groups.length > 1) return groups.map((g) => ({ name: title(g), source: part(boardOf(root), [...shared, g]) }));
  return [{ name: title(root), source: cleaned(root) }];
}

/** What elements within take from an outer one: how things are painted, and not where. */
const inherited = ({ attributes }: Element): Record<string, string> =>
  Object.fromEntries(
    Object.entries(attributes).filter(([key]) => /^(fill|stroke|color|style|class|font|opacity|clip-rule|letter-spacing|text)/.test(key)),
  );
const boardOf = ({ attributes }: Element): Record<string, string> =>
  Object.fromEntries(Object.entries(attributes).filter(([key]) => ['viewBox', 'width', 'height', 'preserveAspectRatio'].includes(key)));
