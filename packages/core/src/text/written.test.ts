import { execFileSync } from 'node:child_process';
import { parse as parseCss, walk, type CssNode } from 'css-tree';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { parse as parseHtml } from 'node-html-parser';
import ts from 'typescript';
import {
  blockComment,
  cssPath,
  cssString,
  csvCell,
  htmlComment,
  htmlText,
  jsonText,
  plainLine,
  shellWord,
  sqlString,
  tsString,
  xmlText,
} from './index.js';

/** Texts that end strings, comments, tags and lines of one language or another. */
const NASTY = [
  '*/@import url(//evil.example/x.css);/*',
  '</style><script>alert(1)</script>',
  '"); } body { background: url(javascript:1) } /*',
  "'; DROP TABLE face; -- ",
  '\\',
  'a\\',
  '"\'`',
  '${process.env.HOME}`rm -rf`$(id)',
  '--><img src=x onerror=alert(1)>',
  '-',
  'a--b',
  ']]>',
  '&amp;&#x3c;',
  'line\nbreak\r\nand\ttab',
  'null\u0000 bell\u0007 esc\u001b[31m',
  'dir\u202Erlo\u2066iso',
  '\u2028\u2029',
  '\ud800 half',
  'emoji 🌱 and кирилиця',
  '=HYPERLINK("http://evil.example")',
  '@SUM(1)',
  '<!--',
  '%0d%0a',
  '//comment',
];
/** What of a text stays when every character is whole. */
const kept = (s: string): string => s.replace(/[\ud800-\udbff](?![\udc00-\udfff])/g, '\ufffd');

describe.each(NASTY)('%j', (text) => {
  test('CSS: a string, a comment and an address, read by an independent parser', () => {
    const errors: unknown[] = [];
    const sheet = `/* ${blockComment(text)} */ a { font-family: ${cssString(text)}; src: url("${cssPath(text)}") }`;
    const tree = parseCss(sheet, { onParseError: (e) => errors.push(e), parseCustomProperty: true });
    const strings: string[] = [];
    const kinds: string[] = [];
    walk(tree, (node: CssNode) => {
      if (node.type === 'String') strings.push(node.value);
      if (node.type === 'Atrule' || node.type === 'Declaration') kinds.push(node.type === 'Atrule' ? `@${node.name}` : node.property);
    });
    expect([errors, kinds]).toEqual([[], ['font-family', 'src']]);
    // Line ends become spaces, a null what CSS makes of it.
    expect(strings[0]).toBe(
      kept(text)
        .replace(/[\n\r\f]/g, ' ')
        .replaceAll('\0', '\ufffd'),
    );
  });

  test('HTML: text, an attribute and a comment', () => {
    const page = parseHtml(`<p title="${htmlText(text)}">${htmlText(text)}</p><!-- ${htmlComment(text)} --><b>end</b>`, { comment: true });
    expect(page.querySelectorAll('*').map((e) => e.rawTagName)).toEqual(['p', 'b']);
    const plain = kept(text).replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g, '');
    expect(page.querySelector('p')!.text).toBe(plain);
    expect(page.querySelector('p')!.getAttribute('title')).toBe(plain);
    expect(Object.keys(page.querySelector('p')!.attributes)).toEqual(['title']);
  });

  test('XML: text and an attribute', () => {
    const document = `<a t="${xmlText(text)}"><!-- ${htmlComment(text)} -->${xmlText(text)}</a>`;
    expect(XMLValidator.validate(document)).toBe(true);
    const { a } = new XMLParser({ ignoreAttributes: false, trimValues: false, htmlEntities: true, parseTagValue: false }).parse(
      document,
    ) as {
      a: { '@_t': string; '#text': string } | string;
    };
    const plain = kept(text).replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '');
    expect(typeof a === 'string' ? a : a['@_t']).toBe(plain);
  });

  test('TypeScript: a string and a comment, read by its compiler; JSON by its parser', () => {
    const source = ts.createSourceFile('x.ts', `/** ${blockComment(text)} */\nconst a = ${tsString(text)};`, ts.ScriptTarget.Latest, true);
    const [statement] = source.statements;
    expect([(source as unknown as { parseDiagnostics: unknown[] }).parseDiagnostics.length, source.statements.length]).toEqual([0, 1]);
    const { initializer } = (statement as ts.VariableStatement).declarationList.declarations[0]!;
    expect((initializer as ts.StringLiteral).text).toBe(kept(text));
    expect(tsString(text) + jsonText({ [text]: text })).not.toMatch(/<\/|\u2028/);
    expect(JSON.parse(jsonText({ a: text }))).toEqual({ a: kept(text) });
  });

  test('a shell’s word, read by sh; and a line of plain text', () => {
    const out = execFileSync('/bin/sh', ['-c', `printf %s ${shellWord(text)}`], { encoding: 'utf8' });
    expect(out).toBe(kept(text).replaceAll('\0', ''));
    expect(plainLine(text)).not.toMatch(/[\p{Cc}\u202a-\u202e\u2066-\u2069\u2028\u2029]/u);
  });

  test('a cell of CSV is one cell, and no formula', () => {
    const cell = csvCell(text);
    // Read by the rules of RFC 4180: quotes around, doubled within.
    const value = cell.startsWith('"') ? cell.slice(1, -1).replaceAll('""', '"') : cell;
    if (!cell.startsWith('"')) expect(cell).not.toMatch(/[",\r\n]/);
    expect(value).not.toMatch(/^[=+\-@]/);
    expect(value.replace(/^'/, '')).toBe(kept(text).replaceAll('\0', '').replace(/^'/, ''));
  });

  test('a string of SQL ends where it should', () => {
    // Walked as MariaDB's documentation of string literals says: a backslash takes the next character along.
    const literal = sqlString(text);
    let at = 1;
    while (literal[at] !== "'") at += literal[at] === '\\' ? 2 : 1;
    expect(at).toBe(literal.length - 1);
  });
});
