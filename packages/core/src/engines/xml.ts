import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { FontError } from '../sfnt/index.js';

/** What is told while XML is read: names without their prefix, attributes as they are written. */
export interface XmlReader {
  open(name: string, attributes: Readonly<Record<string, string>>): void;
  close(name: string): void;
  text(text: string): void;
}

const plain = (name: string): string => name.slice(name.indexOf(':') + 1);

/**
 * Reads XML from its beginning to its end. Nothing is fetched, and entities that a file declares stand for short plain texts only.
 * @throws FontError when it is not well formed
 */
export function readXml(text: string, reader: XmlReader): void {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw new FontError('bad-table', `The SVG file cannot be read: ${error.message}.`);
  });
  parser.on('doctype', (doctype) => {
    for (const [, name, value] of doctype.matchAll(/<!ENTITY\s+([\w.-]{1,64})\s+["']([^"'&<]{0,300})["']\s*>/g))
      parser.ENTITIES[name!] = value!;
  });
  parser.on('opentag', (tag: SaxesTagPlain) => reader.open(plain(tag.name), tag.attributes));
  parser.on('closetag', (tag: SaxesTagPlain) => reader.close(plain(tag.name)));
  parser.on('text', (t) => reader.text(t));
  parser.write(text).close();
}
