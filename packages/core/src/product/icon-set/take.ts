import { expectFontError } from '../../sfnt/index.js';
import { freeName, iconName } from './names.js';
import { newIcon, type Icon, type IconSet } from './set.js';
import { readBoards } from './svg/source.js';

/** A file with drawings as somebody sends it. */
export interface GivenDrawing {
  path: string;
  text: string;
}

/** What became of one file. */
export interface TakenDrawing {
  path: string;
  /** Ids of the drawings that came of it. */
  added: string[];
  /** Ids of those that were there under that name, and are drawn anew. */
  replaced: string[];
  /** What was changed about names, and what could not be read. */
  notes: string[];
  refused: string | null;
}

/** Where the lighter layer of a drawing stands that was split into two. */
const layersOf = (icons: readonly Icon[], at: number): number[] => {
  const { inking, beneath } = icons[at]!;
  return icons.flatMap((i, k) => (inking === 'front' && i.id === beneath && i.inking === 'back' ? [k] : []));
};

/**
 * Takes drawings into a set. A drawing of a name that is there takes the place of the old one and keeps its code point; two files of
 * one name in one go are two drawings. What cannot be read is told by file, and the rest goes on.
 * @param idOf makes the id of a new drawing from its name
 */
export function takeDrawings(
  set: IconSet,
  files: readonly GivenDrawing[],
  { by = 'itself', idOf }: { by?: 'itself' | 'groups'; idOf: (name: string) => string },
): { icons: Icon[]; taken: TakenDrawing[] } {
  const icons = [...set.icons];
  const byName = new Map<string, number>();
  icons.forEach((icon, i) => [icon.name, ...icon.aliases].forEach((name) => byName.set(name, i)));
  const fresh = new Set<string>();
  const taken = files.map(({ path, text }): TakenDrawing => {
    const out: TakenDrawing = { path, added: [], replaced: [], notes: [], refused: null };
    let boards: ReturnType<typeof readBoards>;
    try {
      boards = readBoards(text, by);
    } catch (error) {
      expectFontError(error);
      out.refused = error.message;
      return out;
    }
    for (const [k, board] of boards.entries()) {
      const said = boards.length === 1 ? path : board.name || `${path} ${k + 1}`;
      const { name, changed } = iconName(said, `drawing-${icons.length + 1}`);
      if (changed) out.notes.push(changed);
      const known = byName.get(name);
      if (known !== undefined && !fresh.has(icons[known]!.id)) {
        // A layer that was split off it is drawn anew with it.
        for (const i of [known, ...layersOf(icons, known)]) {
          icons[i] = { ...icons[i]!, svg: board.source.svg };
          fresh.add(icons[i].id);
          out.replaced.push(icons[i].id);
        }
        continue;
      }
      const free = freeName(name, new Set(byName.keys()));
      if (free !== name) out.notes.push(`“${name}” is the name of another drawing that came with it; this one is called “${free}”.`);
      const icon = newIcon(idOf(free), free, board.source.svg);
      byName.set(free, icons.length);
      fresh.add(icon.id);
      icons.push(icon);
      out.added.push(icon.id);
    }
    return out;
  });
  return { icons, taken };
}
