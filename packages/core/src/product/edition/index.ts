import { render, runsOfLanguages, type Recipe, type TargetFormat, type Tools } from '../../convert/index.js';
import { NAME_ID } from '../../sfnt/index.js';
import { language } from '../../unicode/index.js';
import { fileBase } from '../../webkit/index.js';
import type { ProductFinding, ProductKind, ProductSource } from '../product.js';

/** What a person chooses for an edition. */
export interface EditionRecipe {
  /** The family name of the edition. */
  name: string;
  /** CLDR tags; the edition has what these languages are written with. Empty: everything the face has. */
  languages: readonly string[];
  formats: readonly TargetFormat[];
}

const nameKey = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');
/** A renamed edition of one face, with what some languages need, in some formats. */
export const EDITION: ProductKind<EditionRecipe> = {
  id: 'edition',
  name: 'Edition of a face',
  changes: ['subset', 'rename'],
  check(sources, recipe) {
    const out: ProductFinding[] = [];
    const stop = (code: string, message: string): void => void out.push({ code, severity: 'stops', message });
    const [source] = sources;
    if (!source || sources.length !== 1) {
      stop('one-source', 'An edition is made of one face.');
      return out;
    }
    if (nameKey(recipe.name) === '') stop('no-name', 'An edition needs a name with a letter in it.');
    for (const taken of takenNames(source))
      if (nameKey(taken) !== '' && nameKey(recipe.name).includes(nameKey(taken)))
        stop('name-taken', `“${taken}” is the name of the face it is made of, or kept by its license. Give the edition another name.`);
    for (const tag of recipe.languages) if (!language(tag)) stop('no-language', `There is no language “${tag}” here.`);
    if (recipe.formats.length === 0) stop('no-format', 'Choose at least one format.');
    const cff = source.face.outlineKind !== 'glyf';
    for (const format of recipe.formats)
      if ((format === 'ttf' && cff) || (format === 'otf' && !cff))
        stop('outline-conversion', `This face cannot become a file of the format ${format.toUpperCase()} yet.`);
    const lacking = source.face.writes(samplesOf(recipe.languages));
    if (lacking.length > 0)
      out.push({
        code: 'lacks-letters',
        severity: 'note',
        message: `The face lacks ${lacking
          .slice(0, 8)
          .map((m) => String.fromCodePoint(m.codePoint))
          .join(' ')} of these languages; the edition lacks them, too.`,
      });
    return out;
  },
  build(sources, recipe, number, previous, tools) {
    const [source] = sources;
    const steps: Recipe = [
      ...(recipe.languages.length > 0 ? [{ step: 'subset', options: { runs: runsOfLanguages(recipe.languages) } }] : []),
      { step: 'rename', options: { family: recipe.name, version: number } },
    ];
    const files: ReturnType<typeof EDITION.build>['files'] = [];
    const comparison = { equal: true, differences: [] as string[], glyphsCompared: 0 };
    const style = source!.face.name(NAME_ID.typographicSubfamily) ?? source!.face.name(NAME_ID.subfamily) ?? 'Regular';
    for (const format of [...new Set(recipe.formats)].sort()) {
      const made = once(source!, [...steps, { step: 'container', options: { to: format } }], tools);
      files.push({ name: `${fileBase(recipe.name, style)}.${format}`, format: made.format, bytes: made.bytes });
      comparison.equal &&= made.comparison.equal;
      comparison.differences.push(...made.comparison.differences);
      comparison.glyphsCompared += made.comparison.glyphsCompared;
    }
    return { files, comparison, codePoints: [...(previous?.codePoints ?? [])] };
  },
};

/** The last step is left out where the file is in that container already. */
function once(source: Pick<ProductSource, 'face'>, recipe: Recipe, tools: Tools): ReturnType<typeof render> {
  const { sfnt, faceIndex } = source.face.sfnt;
  const last = recipe[recipe.length - 1]!;
  const plain = source.face.outlineKind === 'glyf' ? 'ttf' : 'otf';
  return render(sfnt, faceIndex, last.options.to === plain ? recipe.slice(0, -1) : recipe, tools);
}

const takenNames = ({ face, licenses }: ProductSource): string[] => [
  ...[NAME_ID.typographicFamily, NAME_ID.family].flatMap((id) => face.name(id) ?? []),
  ...licenses.flatMap((l) => l.reservedNames ?? []),
];

const samplesOf = (tags: readonly string[]): string =>
  tags.flatMap((tag) => [...(language(tag)?.letters ?? [])].map((c) => String.fromCodePoint(c))).join(' ');
