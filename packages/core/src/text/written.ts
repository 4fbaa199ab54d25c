/*
 * Text of others written into a language, one function a place it may stand in. Nothing else writes such text into what a
 * program will read: a family's name may hold whatever its maker, or an attacker, put there.
 */

/** Half of a surrogate pair stands for nothing and cannot be written in UTF-8. */
const whole = (text: string): string => text.replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '\ufffd');
/** Characters that no line of plain text has a place for, and those that hide or turn what is beside them. */
const CONTROLS = /[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069\u2028\u2029\ufeff]/gu;

/** One line of plain text: no control characters, no line ends, nothing that turns or hides text. */
export const plainLine = (text: string): string => whole(text).replace(CONTROLS, ' ');

/** A string of a style sheet, with its quotes. Source: CSSOM, 2.1, serialize a string. */
export const cssString = (text: string): string =>
  `"${whole(text)
    .replaceAll('\0', '\ufffd')
    // Line ends are shown as spaces: a name with one in it is no name that a page can ask for.
    .replace(/[\n\r\f]/g, ' ')
    .replace(/[\\"]/g, '\\$&')
    .replace(/[\u0001-\u001f\u007f]/g, (c) => `\\${c.charCodeAt(0).toString(16)} `)
    // Within a style element of a page nothing may end it.
    .replaceAll('<', '\\3c ')}"`;

/** What stands in a comment of a style sheet, of SCSS or of TypeScript: nothing that ends it. */
export const blockComment = (text: string): string => plainLine(text).replaceAll('*/', '* /').replaceAll('/*', '/ *').replaceAll('<', '‹');

/** What stands between `url("` and `")`: a path, with its slashes. Source: RFC 3986, 3.3. */
export const cssPath = (path: string): string =>
  whole(path)
    .split('/')
    .map(encodeURIComponent)
    .join('/')
    .replace(/[()'*!]/g, (c) => `%${c.charCodeAt(0).toString(16)}`);

/** Text or the value of an attribute in quotes, in HTML. Control characters but line ends have no place in a page. */
export const htmlText = (text: string): string =>
  whole(text)
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g, '')
    .replace(/[&<>"'`]/g, (c) => `&#${c.charCodeAt(0)};`);

/** What stands in a comment of HTML or XML. Source: HTML Living Standard, 13.1.6; XML 1.0, 2.5. */
export const htmlComment = (text: string): string => plainLine(text).replace(/-(?=-)|[<>]|-$/g, '·');

/** Text or the value of an attribute in quotes, in XML; what no document may hold is left out. Source: XML 1.0, 2.2. */
export const xmlText = (text: string): string =>
  whole(text)
    .replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, '')
    // Readers make spaces of line ends in attributes, unless they are written as numbers.
    .replace(/[&<>"'\t\n\r]/g, (c) => `&#${c.charCodeAt(0)};`);

/** A string of TypeScript or JavaScript, with its quotes; safe within a script of a page, too. Source: ECMA-262, 12.9.4. */
export const tsString = (text: string): string =>
  `'${whole(text)
    .replace(/[\\']/g, '\\$&')
    .replace(/[\u0000-\u001f\u007f\u2028\u2029<]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`)}'`;

/** JSON that is safe within a page, too. Source: RFC 8259. @param indent spaces a level */
export const jsonText = (value: unknown, indent = 0): string =>
  JSON.stringify(value, (_, v: unknown) => (typeof v === 'string' ? whole(v) : v), indent).replace(
    /[\u2028\u2029<]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );

/** One word of a shell's command line. Source: POSIX.1-2017, Shell Command Language, 2.2.2 (single quotes). */
export const shellWord = (text: string): string => {
  const plain = whole(text).replaceAll('\0', '');
  return /^[A-Za-z0-9_@%+=:,./-]+$/.test(plain) ? plain : `'${plain.replaceAll("'", `'\\''`)}'`;
};

/** A string of SQL as MariaDB reads it with its usual mode, with its quotes. Source: MariaDB Server Documentation, String Literals. */
export const sqlString = (text: string): string =>
  `'${whole(text).replace(
    /[\0\b\n\r\t\u001a\\'"]/g,
    (c) => ({ '\0': '\\0', '\b': '\\b', '\n': '\\n', '\r': '\\r', '\t': '\\t', '\u001a': '\\Z' })[c] ?? `\\${c}`,
  )}'`;

/**
 * A cell of CSV. What a spreadsheet would take for a formula gets a quote before it.
 * Source: RFC 4180; the quote is common practice.
 */
export const csvCell = (text: string): string => {
  const plain = whole(text).replaceAll('\0', '');
  const said = /^[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
  return /[",\r\n]/.test(said) ? `"${said.replaceAll('"', '""')}"` : said;
};
