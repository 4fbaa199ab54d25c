import { python } from './python.js';

/** A face with two colored glyphs, by fontTools; without outlines beneath them when asked. */
export const colored = (beneath: boolean): Uint8Array =>
  new Uint8Array(
    Buffer.from(
      python<string>(
        `
import base64, io
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
def box(size):
    pen = TTGlyphPen(None)
    if size:
        pen.moveTo((0, 0)); pen.lineTo((0, size)); pen.lineTo((size, size)); pen.lineTo((size, 0)); pen.closePath()
    return pen.glyph()
fb = FontBuilder(1000, isTTF=True); names = ['.notdef', 'A', 'B', 'layer']
fb.setupGlyphOrder(names); fb.setupCharacterMap({65: 'A', 66: 'B'})
fb.setupGlyf({'.notdef': box(300), 'A': box(500 if given else 0), 'B': box(600 if given else 0), 'layer': box(400)})
fb.setupHorizontalMetrics({n: (700, 0) for n in names}); fb.setupHorizontalHeader(ascent=800, descent=-200)
fb.setupNameTable({'familyName': 'Colored', 'styleName': 'Regular'}); fb.setupOS2(); fb.setupPost()
fb.setupCOLR({'A': [('layer', 0)], 'B': [('layer', 1)]}); fb.setupCPAL([[(1, 0, 0, 1), (0, 1, 0, 1)]])
out = io.BytesIO(); fb.font.save(out); print(json.dumps(base64.b64encode(out.getvalue()).decode()))
`,
        beneath,
      ),
      'base64',
    ),
  );
