import { cssPath, cssString as css, type FontFormat } from '@orderly-glyph/core';

/** The style sheet beside the folder of fonts, at places that are plain folders of a website. */
export const SHEET_NAME = 'fonts.css';

/** Names of formats in style sheets. Source: CSS Fonts Module Level 4, 4.3.1 (font formats). */
export const CSS_FORMAT: Readonly<Record<FontFormat, string>> = {
  ttf: 'truetype',
  otf: 'opentype',
  ttc: 'collection',
  woff: 'woff',
  woff2: 'woff2',
  eot: 'embedded-opentype',
  svg: 'svg',
};

export interface SheetFace {
  family: string;
  italic: boolean;
  /** One weight, or a range of a variable face. */
  weight: string;
  format: FontFormat;
  name: string;
  role: string | null;
}

/** Rules for what lies there; roles become custom properties that the site's own rules can name. */
export function sheetOf(faces: readonly SheetFace[]): string {
  const rules = faces.map(
    (f) =>
      `@font-face {\n  font-family: ${css(f.family)};\n  font-style: ${f.italic ? 'italic' : 'normal'};\n  font-weight: ${f.weight};\n  font-display: swap;\n  src: url("fonts/${cssPath(f.name)}") format("${CSS_FORMAT[f.format]}");\n}`,
  );
  const roles = faces.flatMap((f) => (f.role ? [`  --${f.role.replace(/[^A-Za-z0-9-]/g, '-')}: ${css(f.family)};`] : []));
  return `/* Written by Orderly Glyph; it is written anew whenever a face is put here or taken off. */\n${rules.join('\n')}\n${roles.length > 0 ? `:root {\n${roles.join('\n')}\n}\n` : ''}`;
}
