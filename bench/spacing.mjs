// Spacing and kerning as computed, beside those that ten well-made faces have: node bench/spacing.mjs
// Advances of a to z and A to Z, with the target learned from three words set in the face and with none; kerning of the pairs that the
// face moves by a hundredth of the em or more (HarfBuzz's hb-shape tells how), and how many pairs are moved that it leaves alone.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import * as core from '../packages/core/dist/index.js';
import { nodeCodec } from '../packages/node/dist/index.js';

const modules = (path) => fileURLToPath(new URL(`../node_modules/${path}`, import.meta.url));
const google = (name, file) => modules(`@expo-google-fonts/${name}/400Regular/${file}_400Regular.ttf`);
const FACES = {
  literata: google('literata', 'Literata'),
  young: google('young-serif', 'YoungSerif'),
  atkinson: google('atkinson-hyperlegible-next', 'AtkinsonHyperlegibleNext'),
  vietnam: google('be-vietnam-pro', 'BeVietnamPro'),
  noto: google('noto-sans', 'NotoSans'),
  serif: modules('source-serif/TTF/SourceSerif4-Regular.ttf'),
  notoserif: '/usr/share/fonts/truetype/noto/NotoSerif-Regular.ttf',
  yusei: google('yusei-magic', 'YuseiMagic'),
  serifbold: modules('source-serif/TTF/SourceSerif4-Bold.ttf'),
  display: '/usr/share/fonts/truetype/noto/NotoSansDisplay-Regular.ttf',
};
const LETTERS = [...'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ'];
const PUNCTUATION = [...'.,-'];
const mean = (list) => list.reduce((s, v) => s + v, 0) / list.length;
const dir = mkdtempSync(join(tmpdir(), 'spacing-'));
const all = { words: [], none: [], kern: [], moved: [] };
for (const [name, file] of Object.entries(FACES)) {
  if (!existsSync(file)) continue;
  const face = core.openFace(new Uint8Array(readFileSync(file)), nodeCodec, 0);
  const s = 1000 / face.unitsPerEm;
  const shapeAt = (c, dx = 0) => {
    const pen = new core.ContourPen();
    face.draw(face.glyphOf(c.codePointAt(0)), new core.TransformPen([s, 0, 0, s, dx, 0], pen));
    pen.closePath();
    return core.shapeOf(pen.contours);
  };
  const advance = (c) => face.advanceOf(face.glyphOf(c.codePointAt(0))) * s;
  const shapes = new Map([...LETTERS, ...PUNCTUATION].map((c) => [c, shapeAt(c)]));
  const heights = { xHeight: shapes.get('x').box.yMax, capHeight: shapes.get('H').box.yMax };
  const words = ['minimum', 'honey', 'bread'].map((word) => {
    let x = 0;
    return [...word].map((c) => {
      const shape = shapeAt(c, x);
      x += advance(c);
      return shape;
    });
  });
  const off = (target) =>
    mean(
      LETTERS.map((c) => {
        const shape = shapes.get(c);
        const { left, right } = core.bearingsOf({ shape, band: c === c.toLowerCase() ? 'small' : 'capital' }, target, heights);
        return Math.abs(shape.box.xMax - shape.box.xMin + left + right - advance(c));
      }),
    );
  const usual = core.usualTarget(
    ['n', 'h', 'u'].map((c) => shapes.get(c)),
    heights,
    (shape, y) => core.spansAtY(shape.polygons, y),
  );
  const [learned, none] = [off(core.writtenTarget(words, heights)), off(usual)];
  const letters = [...LETTERS, ...PUNCTUATION].map((c) => {
    const shape = shapes.get(c);
    const kind = PUNCTUATION.includes(c) ? 'punctuation' : c === c.toLowerCase() ? 'small' : 'capital';
    return { key: c, kind, shape, left: shape.box.xMin, right: advance(c) - shape.box.xMax };
  });
  const ours = new Map(core.kernPairs(letters, heights).map((p) => [p.left + p.right, p.value]));
  const pairs = letters.flatMap((a) => letters.map((b) => a.key + b.key));
  const list = join(dir, 'pairs.txt');
  writeFileSync(list, pairs.join('\n'));
  const widths = (feature) =>
    execFileSync(
      'hb-shape',
      [`--text-file=${list}`, '--no-glyph-names', '--no-clusters', `--features=-liga,-clig,-calt,${feature}`, file],
      {
        encoding: 'utf8',
        maxBuffer: 1 << 28,
      },
    )
      .trim()
      .split('\n')
      .map((l) => [...l.matchAll(/\+(-?\d+)/g)].reduce((sum, m) => sum + Number(m[1]), 0));
  const [kerned, plain] = [widths('kern'), widths('-kern')];
  const errors = [];
  let [moved, still] = [0, 0];
  pairs.forEach((pair, i) => {
    const theirs = (kerned[i] - plain[i]) * s;
    if (Math.abs(theirs) >= 10) errors.push(Math.abs((ours.get(pair) ?? 0) - theirs));
    else {
      still++;
      if (ours.has(pair)) moved++;
    }
  });
  all.words.push(learned);
  all.none.push(none);
  if (errors.length > 50) {
    all.kern.push(mean(errors));
    all.moved.push(moved / still);
  }
  console.log(
    `${name}: advances off by ${learned.toFixed(1)} with words, ${none.toFixed(1)} without; ${errors.length} pairs off by ${errors.length > 0 ? mean(errors).toFixed(1) : '-'}, ${((100 * moved) / still).toFixed(0)}% of the others moved`,
  );
}
rmSync(dir, { recursive: true });
console.log(
  `mean: ${mean(all.words).toFixed(1)} with words, ${mean(all.none).toFixed(1)} without; pairs ${mean(all.kern).toFixed(1)}, others moved ${(100 * mean(all.moved)).toFixed(0)}%`,
);
