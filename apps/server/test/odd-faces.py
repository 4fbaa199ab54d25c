"""Makes faces that are odd in one way each, from one sound face, with fontTools: odd-faces.py IN FOLDER."""
import sys
from fontTools.ttLib import TTFont, newTable
from fontTools.ttLib.tables._c_m_a_p import CmapSubtable

source, folder = sys.argv[1], sys.argv[2]


def make(name, change):
    font = TTFont(source)
    change(font)
    font.save(f"{folder}/{name}.ttf")


def clear(font, keep=()):
    font["name"].names = [n for n in font["name"].names if n.nameID in keep]


def call(font, family, style="Regular", ids=(1, 2)):
    clear(font)
    font["name"].setName(family, ids[0], 3, 1, 0x409)
    font["name"].setName(style, ids[1], 3, 1, 0x409)


def empty_names(font):
    clear(font)


def long_names(font):
    call(font, "Long " * 200)


def twenty_languages(font):
    clear(font)
    for i, language in enumerate([0x405, 0x406, 0x407, 0x408, 0x409, 0x40A, 0x40B, 0x40C, 0x40D, 0x40E, 0x410, 0x411, 0x412, 0x413, 0x414, 0x415, 0x416, 0x418, 0x419, 0x41D]):
        font["name"].setName(f"Tongue {i}", 1, 3, 1, language)
        font["name"].setName("Regular", 2, 3, 1, language)


def right_to_left(font):
    call(font, "\u062e\u0637 \u0627\u0644\u0633\u0648\u0642")


def no_space(font):
    call(font, "No Space")
    for table in font["cmap"].tables:
        table.cmap.pop(0x20, None)
        table.cmap.pop(0xA0, None)


def no_outlines(font):
    call(font, "No Outlines")
    for tag in ("glyf", "loca", "fpgm", "prep", "cvt ", "gasp"):
        if tag in font:
            del font[tag]


def zero_widths(font):
    call(font, "Zero Widths")
    hmtx = font["hmtx"]
    for glyph in hmtx.metrics:
        hmtx.metrics[glyph] = (0, hmtx.metrics[glyph][1])


def subtable(platform, encoding, mapping, fmt):
    table = CmapSubtable.newSubtable(fmt)
    table.platformID, table.platEncID, table.language, table.cmap = platform, encoding, 0, mapping
    return table


def symbol(font):
    call(font, "Symbol Map")
    best = font.getBestCmap()
    font["cmap"].tables = [subtable(3, 0, {0xF000 + c: g for c, g in best.items() if c < 0x100}, 4)]


def mac_only(font):
    call(font, "Mac Map")
    best = font.getBestCmap()
    font["cmap"].tables = [subtable(1, 0, {c: g for c, g in best.items() if c < 0x80}, 0)]


make("empty-names", empty_names)
make("long-names", long_names)
make("twenty-languages", twenty_languages)
make("right-to-left", right_to_left)
make("no-space", no_space)
make("no-outlines", no_outlines)
make("zero-widths", zero_widths)
make("symbol", symbol)
make("mac-only", mac_only)
for i, word in enumerate(["Black", "Heavy", "Ultra", "Fat", "Poster", "Extra Black", "ExtraBlack", "Extra-Black", "Ultra Black", "UltraBlack", "Blk", "XBlk", "Schwarz", "Noir", "Negra", "Nero"]):

    def sixteen(font, word=word):
        call(font, "Sixteen", word, (16, 17))
        font["name"].setName(f"Sixteen {word}", 1, 3, 1, 0x409)
        font["name"].setName("Regular", 2, 3, 1, 0x409)
        font["OS/2"].usWeightClass = 900

    make(f"sixteen-{i:02}", sixteen)
