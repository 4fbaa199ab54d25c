import { HOLDING } from './data/beside-words.js';
import { isNotice } from './notices.js';

/** Stanzas of a Debian copyright file (format 1.0) on what is no font, and its fields. Source: Debian, "Machine-readable debian/copyright file". */
export function withoutPackaging(text: string): string {
  if (!/^Format(?:-Specification)?:\s/m.test(text.slice(0, 2000)) || !/^Files:/m.test(text)) return text;
  const blank = (s: string): string => s.replace(/[^\n]/g, ' ');
  const parts = text.split(/(\n(?:[ \t]*\n)+)/);
  const field = (p: string, name: string): string | null =>
    new RegExp(`^${name}:[ \\t]*([^\\n]*(?:\\n[ \\t]+[^\\n]*)*)`, 'mi').exec(p)?.[1] ?? null;
  const isOther = (globs: string): boolean =>
    globs
      .split(/\s+/)
      .filter(Boolean)
      .every((g) => OTHER_PATHS.test(g));
  const used = new Set<string>();
  const short = (l: string): string[] =>
    l
      .split('\n')[0]!
      .toLowerCase()
      .split(/\s+(?:and|or|and\/or)\s+|,\s*|\s+with\s+/)
      .map((x) => x.trim())
      .filter(Boolean);
  for (const p of parts) {
    const files = field(p, 'Files');
    if (files !== null && !isOther(files)) for (const l of short(field(p, 'License') ?? '')) used.add(l);
  }
  return parts
    .map((p) => {
      if (/^\s*$/.test(p)) return p;
      const files = field(p, 'Files');
      if (files !== null && isOther(files)) return blank(p);
      const label = /^License:[ \t]*([^\n]*)/m.exec(p)?.[1] ?? null;
      if (files === null && label !== null && !/^Format/m.test(p) && label !== '' && !short(label).some((l) => used.has(l)))
        return blank(p);
      return p
        .replace(
          /^(?:Format(?:-Specification)?|Upstream-Name|Name|Upstream-Contact|Maintainer|Source|Upstream-Source|Upstream-Author|Author|Homepage|Files-Excluded|Files|License-Grant-From|X-[\w-]+):[^\n]*(?:\n[ \t]+[^\n]*)*/gim,
          blank,
        )
        .replace(/^Copyright:[^\n]*(?:\n[ \t]+[^\n]*)*/gim, (m) =>
          m
            .split('\n')
            .map((line) => {
              const c = line.replace(/^Copyright:\s*|^\s+/, '');
              return c === '' || isNotice(`Copyright ${c}`) ? blank(line) : line;
            })
            .join('\n'),
        )
        .replace(/^License:[ \t]*([^\n]*)/gim, (m, l: string) =>
          /^[\w.+() -]{0,60}$/.test(l) && !HOLDING.test(l) && short(l).every((x) => LABEL.test(x)) ? blank(m) : m,
        )
        .replace(/^ \.$/gm, '');
    })
    .join('');
}
const OTHER_PATHS =
  /^(?:debian\/.*|.*\.(?:py|sh|pl|mk|html?|css|js|md|xsl|cmake|c|h|rb|yml|yaml|am|ac|m4)|Makefile.*|makefile|.*\/Makefile|configure.*|(?:tools?|scripts?|doc|docs|documentation|tests?|website|web|site|examples?|m4|\.github)\/.*)$/;
/** Short names of licenses. Source: Debian, copyright format 1.0, and SPDX. */
export const LABEL =
  /^(?:sil[-_. ]?)*(?:open[-_ ]font[-_ ]licen[cs]e|ofl)?[-_. v]*(?:1\.[01])?\+?$|^(?:mit|expat|bsd|apache|gpl|lgpl|agpl|gfl|lppl|cc0|cc-by|cc-by-sa|zlib|isc|0bsd|wtfpl|mplus|ipa|gust|gust-font-license|bitstream-?vera|public-domain|arphic(?:-public-license)?|unlicense|x11|lppl-1\.3c?)(?:[-_. ]?[\dv][\w.+-]*|[-+][\w.+-]*)?$/i;
