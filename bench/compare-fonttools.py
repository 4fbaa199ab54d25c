"""Compares what `glyph inspect` says of fonts with what fontTools reads, field by field.

Usage: glyph inspect FILE... --json | /usr/bin/python3 bench/compare-fonttools.py
Prints each disagreement and their number; exits 1 when there is any.
"""
import json
import sys
from fontTools.ttLib import TTFont, TTCollection
from fontTools.pens.boundsPen import BoundsPen

LEVELS = {0: 'installable', 2: 'restricted', 4: 'preview-print', 8: 'editable'}


def runs(code_points):
    out = []
    for c in sorted(code_points):
        if out and out[-1][1] == c - 1:
            out[-1][1] = c
        else:
            out.append([c, c])
    return ['U+%04X' % a if a == b else 'U+%04X-%04X' % (a, b) for a, b in out]


def top(font, character):
    cmap = font.getBestCmap() or {}
    name = cmap.get(ord(character))
    if name is None:
        return None
    glyphs = font.getGlyphSet()
    pen = BoundsPen(glyphs)
    glyphs[name].draw(pen)
    return round(pen.bounds[3]) if pen.bounds else None


def expected(font):
    name = lambda i: font['name'].getDebugName(i)
    os2, hhea, head = font['OS/2'], font['hhea'], font['head']
    cmap = font.getBestCmap() or {}
    fs = os2.fsType
    usage = fs & 14
    level = 'editable' if usage & 8 else 'preview-print' if usage & 4 else 'restricted' if usage & 2 else 'installable'
    layout = [font[t].table for t in ('GSUB', 'GPOS') if t in font]
    color = []
    if 'COLR' in font: color.append('COLR%d' % font['COLR'].version)
    for tag, label in (('SVG ', 'SVG'), ('sbix', 'sbix'), ('CBDT', 'CBDT')):
        if tag in font: color.append(label)
    return {
        'family': name(1), 'subfamily': name(2), 'typographicFamily': name(16), 'typographicSubfamily': name(17),
        'fullName': name(4), 'postScriptName': name(6), 'version': name(5),
        'weightClass': os2.usWeightClass, 'widthClass': os2.usWidthClass, 'italic': bool(os2.fsSelection & 1),
        'monospaced': font['post'].isFixedPitch != 0,
        'outlines': 'CFF2' if 'CFF2' in font else 'CFF' if 'CFF ' in font else 'glyf' if 'glyf' in font else 'none',
        'glyphCount': font['maxp'].numGlyphs, 'unitsPerEm': head.unitsPerEm,
        'ascender': hhea.ascent, 'descender': hhea.descent, 'lineGap': hhea.lineGap,
        'xHeight': getattr(os2, 'sxHeight', 0) or top(font, 'x'), 'capHeight': getattr(os2, 'sCapHeight', 0) or top(font, 'H'),
        'codePoints': len(cmap), 'ranges': runs(cmap),
        'embedding': {'level': level, 'noSubsetting': os2.version >= 2 and bool(fs & 0x100), 'bitmapOnly': os2.version >= 2 and bool(fs & 0x200)},
        'color': color,
        'axes': [{'tag': a.axisTag, 'min': a.minValue, 'default': a.defaultValue, 'max': a.maxValue, 'name': name(a.axisNameID)} for a in font['fvar'].axes] if 'fvar' in font else [],
        'features': sorted({r.FeatureTag for t in layout if t.FeatureList for r in t.FeatureList.FeatureRecord}),
        'layoutScripts': sorted({r.ScriptTag for t in layout if t.ScriptList for r in t.ScriptList.ScriptRecord}),
    }


def main():
    faces = disagreements = unreadable = 0
    for file in json.load(sys.stdin)['files']:
        if file['refused']:
            disagreements += 1
            print(f"{file['path']}: refused: {file['refused']['message']}")
            continue
        fonts = TTCollection(file['path']).fonts if file['format'] == 'ttc' else [TTFont(file['path'])]
        for face, font in zip(file['faces'], fonts):
            faces += 1
            try:
                wanted = expected(font)
            except Exception as error:  # fontTools gives up on tables that are damaged; there is nothing to compare then
                unreadable += 1
                print(f"{file['path']} [{face['index']}]: fontTools cannot read it: {error}")
                continue
            for key, value in wanted.items():
                ours = face[key]
                if ours != value:
                    disagreements += 1
                    print(f"{file['path']} [{face['index']}] {key}: ours {str(ours)[:120]!r}, fontTools {str(value)[:120]!r}")
    print(f'{faces} faces, {disagreements} disagreements' + (f', {unreadable} that fontTools cannot read' if unreadable else ''))
    return 1 if disagreements else 0


sys.exit(main())
