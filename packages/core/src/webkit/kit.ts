/** A text of a kit and where it lies. */
export interface KitText {
  path: string;
  content: string;
}

/** Latin letters that Unicode does not take apart into a letter and a mark. */
const PLAIN: Readonly<Record<string, string>> = {
  Ł: 'L',
  ł: 'l',
  Ø: 'O',
  ø: 'o',
  Đ: 'D',
  đ: 'd',
  ß: 'ss',
  Æ: 'AE',
  æ: 'ae',
  Œ: 'OE',
  œ: 'oe',
  Þ: 'Th',
  þ: 'th',
  ı: 'i',
};

/** A name that is safe in any file system and URL: letters, figures and hyphens. */
export function fileBase(family: string, style: string): string {
  const clean = (s: string): string =>
    s
      .replace(/[ŁłØøĐđßÆæŒœÞþı]/g, (c) => PLAIN[c]!)
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .replace(/[^A-Za-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '');
  return [clean(family) || 'font', clean(style) || 'Regular'].join('-').slice(0, 80);
}
