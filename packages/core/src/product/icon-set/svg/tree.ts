import { readXml } from '../../../engines/index.js';
import { FontError } from '../../../sfnt/index.js';
import { xmlText } from '../../../text/index.js';

/** An element of a drawing; names without their prefix. Texts between elements are kept where they mean something. */
export interface Element {
  name: string;
  attributes: Record<string, string>;
  children: Element[];
  text: string;
}

/** Characters of a drawing at most; drawings of icons have some hundred. */
export const MOST_SVG = 4 * 1024 * 1024;
const MOST_ELEMENTS = 60_000;
const MOST_DEPTH = 200;

/**
 * Reads the elements of an SVG text.
 * @throws FontError in words when it is no SVG, or too large, or nested too deeply
 */
export function readTree(text: string): Element {
  if (text.length > MOST_SVG)
    throw new FontError(
      'too-large',
      `The drawing has ${Math.ceil(text.length / 1024 / 1024)} MiB of text; 4 are the most. Nothing of it was read.`,
    );
  if (!/<(?:[\w-]+:)?svg[\s>/]/.test(text)) throw new FontError('bad-table', 'This is no SVG: it has no <svg> in it.');
  const top: Element = { name: '', attributes: {}, children: [], text: '' };
  const open: Element[] = [top];
  let elements = 0;
  readXml(text, {
    open(name, attributes) {
      if (++elements > MOST_ELEMENTS)
        throw new FontError('too-large', `The drawing has more than ${MOST_ELEMENTS.toLocaleString('en-US')} elements.`);
      if (open.length > MOST_DEPTH) throw new FontError('too-large', `Groups lie more than ${MOST_DEPTH} deep in one another.`);
      const element = { name, attributes: { ...attributes }, children: [], text: '' };
      open[open.length - 1]!.children.push(element);
      open.push(element);
    },
    close: () => void open.pop(),
    text(t) {
      const inside = open[open.length - 1]!;
      if (TEXTS.has(inside.name)) inside.text += t;
    },
  });
  const root = top.children.find((e) => e.name === 'svg');
  if (!root) throw new FontError('bad-table', 'This is no SVG: its outermost element is another one.');
  return root;
}

/** Elements whose texts are kept. */
const TEXTS = new Set(['style', 'text', 'tspan', 'textPath', 'title']);

/** An element as SVG text. */
export function written({ name, attributes, children, text }: Element): string {
  const all = Object.entries(attributes).map(([key, value]) => ` ${key}="${xmlText(value)}"`);
  return `<${name}${all.join('')}>${xmlText(text)}${children.map(written).join('')}</${name}>`;
}

/** Every element from one on, itself first. */
export function* within(element: Element): Generator<Element> {
  yield element;
  for (const child of element.children) yield* within(child);
}
