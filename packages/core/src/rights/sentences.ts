/** A sentence or a line of its own, and where it begins in its text, in UTF-16 units. */
export interface Sentence {
  text: string;
  start: number;
}

/** Abbreviations after which a full stop ends nothing. */
const GOES_ON = /(?:^|[\s(])(?:e\.g|i\.e|etc|inc|ltd|co|corp|v|ver|vers|nr|st|vs|cf|dr|mr|mrs|ms)\.$/i;
/** "No. 5" is a number, "Website: no. App: no." are answers. */
const NUMBERED = /(?:^|[\s(])no\.$/i;

/**
 * Cuts a text into sentences: at full stops followed by white space, at empty lines and at list items. Lines that were only
 * broken to fit a width belong together. Takes time linear in the length of the text.
 */
export function sentencesOf(text: string): Sentence[] {
  const out: Sentence[] = [];
  let from = 0;
  const take = (until: number): void => {
    const raw = text.slice(from, until);
    const plain = raw.replace(/\s+/g, ' ').trim();
    if (/[\p{L}\p{N}]/u.test(plain)) out.push({ text: plain, start: from + (raw.length - raw.trimStart().length) });
    from = until;
  };
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (c === '.' || c === '!' || c === '?' || c === ';') {
      let end = i + 1;
      while (end < text.length && /["'”’)\]*_]/.test(text[end]!)) end++;
      if (end < text.length && !/\s/.test(text[end]!)) continue;
      const before = text.slice(Math.max(from, i - 8), i + 1);
      if (c === ';' || (c === '.' && GOES_ON.test(before))) continue;
      if (c === '.' && NUMBERED.test(before) && /^\s*\d/.test(text.slice(i + 1, i + 6))) continue;
      take(end);
      i = end - 1;
    } else if (c === '\n') {
      // An empty line, or a line that begins like an item or a heading.
      const next = /^(?:[ \t]*\r?\n|[ \t]*(?:[-*•·#>=]|\d{1,2}[.)]|\([a-z\d]{1,2}\))[ \t])/.exec(text.slice(i + 1, i + 200));
      if (next) take(i + 1);
    }
  }
  take(text.length);
  return out;
}
