import { FontError } from '../sfnt/index.js';

/** A drawing with everything resolved that SVG lets stand for something else: styles, references, shapes, units. */
export interface NormalSvg {
  /** Of the viewport, in px. */
  width: number;
  height: number;
  /** SVG that has groups, paths, clip paths, masks, filters, gradients, patterns and images only. */
  svg: string;
}

/** Reads and draws SVG. */
export interface SvgEngine {
  /**
   * @param fonts files of faces that text is drawn with; text in other faces goes
   * @throws FontError when it is not SVG or cannot be drawn
   */
  normalise(svg: string, fonts?: readonly Uint8Array[]): NormalSvg;
  /**
   * What the drawing covers when drawn `columns` px wide, 0 to 1 a pixel, row by row from the top.
   * @throws FontError as `normalise`
   */
  coverage(
    svg: string,
    columns: number,
    fonts?: readonly Uint8Array[],
  ): { columns: number; rows: number; alpha: Float32Array; rgb: Uint8Array };
}

/** Pixels of a picture at most. */
const MOST_PIXELS = 4096 * 4096;

/**
 * Loads resvg, which resolves SVG and draws it.
 * @param wasm the bytes of its WebAssembly module
 */
export async function createSvgEngine(wasm: Uint8Array): Promise<SvgEngine> {
  const { initWasm, Resvg } = await import('@resvg/resvg-wasm');
  await initWasm(wasm.slice().buffer);
  const opened = <T>(
    svg: string,
    fonts: readonly Uint8Array[],
    fitTo: { mode: 'width'; value: number } | undefined,
    use: (drawing: InstanceType<typeof Resvg>) => T,
  ): T => {
    let drawing: InstanceType<typeof Resvg> | null = null;
    try {
      drawing = new Resvg(svg, { font: { fontBuffers: [...fonts] }, ...(fitTo ? { fitTo } : {}) });
      return use(drawing);
    } catch (error) {
      if (error instanceof FontError) throw error;
      throw new FontError('bad-table', `The drawing cannot be read: ${error instanceof Error ? error.message : String(error)}.`);
    } finally {
      drawing?.free();
    }
  };
  return {
    normalise: (svg, fonts = []) =>
      opened(svg, fonts, undefined, (d) => {
        const text = d.toString();
        const number = (name: string): number => Number(new RegExp(` ${name}="([^"]+)"`).exec(text)?.[1] ?? NaN);
        // What the text says is exact; width and height of the picture are whole pixels.
        return { width: number('width') || d.width, height: number('height') || d.height, svg: text };
      }),
    coverage: (svg, columns, fonts = []) =>
      opened(svg, fonts, { mode: 'width', value: columns }, (d) => {
        if (!(columns >= 1 && columns * columns * (d.height / Math.max(1, d.width)) <= MOST_PIXELS))
          throw new FontError('too-large', 'The drawing would be too large a picture.');
        const picture = d.render();
        try {
          const { pixels, width, height } = picture;
          const alpha = new Float32Array(width * height);
          const rgb = new Uint8Array(width * height * 3);
          for (let i = 0; i < alpha.length; i++) {
            const a = pixels[4 * i + 3]!;
            alpha[i] = a / 255;
            for (let c = 0; c < 3; c++) rgb[3 * i + c] = pixels[4 * i + c]!;
          }
          return { columns: width, rows: height, alpha, rgb };
        } finally {
          picture.free();
        }
      }),
  };
}
