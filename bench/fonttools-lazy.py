"""Times fontTools opening each font lazily and reading name, OS/2 and cmap, in one warm process.

Usage: /usr/bin/python3 bench/fonttools-lazy.py ROUNDS FILE...   Prints one JSON object: path to milliseconds (best of the rounds).
"""
import json
import sys
import time
from fontTools.ttLib import TTFont

rounds, files = int(sys.argv[1]), sys.argv[2:]
best = {}
for _ in range(rounds):
    for path in files:
        start = time.perf_counter()
        font = TTFont(path, lazy=True)
        font['name'].getDebugName(1), font['name'].getDebugName(2), font['OS/2'].usWeightClass, font.getBestCmap()
        took = (time.perf_counter() - start) * 1000
        best[path] = min(took, best.get(path, took))
print(json.dumps(best))
