import { fileBase } from '../../webkit/index.js';

/** A name as classes and glyphs can have it, and what was changed about the one that was given. */
export interface CleanName {
  name: string;
  /** A sentence, or null where nothing was changed. */
  changed: string | null;
}

/** Names that a drawing can have: a letter or figure, then letters, figures and hyphens, at most sixty. */
export const ICON_NAME = /^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/;
/** What stands before a name in its class: begins with a letter, as classes do. Source: CSS Syntax 3, 4.3.11, identifiers. */
export const PREFIX = /^[a-z][a-z0-9]*(?:-[a-z0-9]+)*-?$/;

/**
 * The name of a drawing by its file's name: without folder and ending, in small plain letters, words joined by hyphens.
 * @param otherwise the name where nothing of the given one is left, as of Arabic letters or emoji
 */
export function iconName(given: string, otherwise: string): CleanName {
  const base = given
    .slice(Math.max(given.lastIndexOf('/'), given.lastIndexOf('\\')) + 1)
    .replace(/\.svgz?$/i, '')
    // Words that only capitals part become words of their own.
    .replace(/([a-z\d])([A-Z])/g, '$1-$2');
  const plain = /[\p{L}\p{N}]/u.test(base)
    ? fileBase(base, 'x').slice(0, -2).toLowerCase().replace(/^-+/, '').slice(0, 60).replace(/-+$/, '')
    : '';
  const lost = plain === '' || (plain === 'font' && !/font/i.test(base));
  const name = lost ? otherwise : plain;
  const same = name === given.replace(/\.svgz?$/i, '');
  return {
    name,
    changed: same
      ? null
      : lost
        ? `“${shown(given)}” has no letter or figure that a class can have; it is called “${name}”.`
        : `“${shown(given)}” is called “${name}”.`,
  };
}

const shown = (given: string): string => (given.length > 60 ? `${given.slice(0, 59)}…` : given);

/** A name that is not taken: the same with a figure behind it. */
export function freeName(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name)) return name;
  for (let n = 2; ; n++) {
    const next = `${name.slice(0, 56)}-${n}`;
    if (!taken.has(next)) return next;
  }
}

/** A glyph's name by a drawing's: letters, figures and underscores, beginning with a letter. Source: AGL specification, 2. */
export const glyphName = (name: string): string => `${/^[0-9]/.test(name) ? 'n' : ''}${name.replace(/-/g, '_')}`.slice(0, 60);

/** Words that can become a drawing when typed: small letters, figures, hyphens and underscores, two at least. */
export const LIGATURE = /^[a-z0-9][a-z0-9_-]{1,59}$/;
