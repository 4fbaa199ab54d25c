import { sentencesOf } from './sentences.js';

/** A sentence, an item of a list, a row of a table or an answer, with what it stands under. */
export interface Unit {
  /** As it stands, white space made single. */
  text: string;
  /** Where it begins in its text, in UTF-16 units. */
  start: number;
  /** The heading or the words that introduce the list it is in. */
  heading: string | null;
  /** The question it answers. */
  question: string | null;
  /** A tick or a cross before or after it. */
  mark: 'yes' | 'no' | null;
  /** Cells of a row, where it is one of a table. */
  cells: string[] | null;
  /** Whether it is a heading, which is shown with what stands below it. */
  isHeading: boolean;
}

const TICK = '✓✔✅☑👍🗸';
const CROSS = '✗✘✖❌☒👎🚫';
const ITEM = new RegExp(
  `^\\s*(?:([${TICK}]|\\[[xX✓]\\]|\\(\\+\\))|([${CROSS}]|\\[ ?\\]|\\(-\\))|[-–—*•·▪◦●]|\\d{1,2}(?:\\.\\d{1,2})?[.)]|\\(?[a-z]\\))\\uFE0F?\\s+(?=\\S)`,
  'u',
);
const ENDS_TICKED = new RegExp(`\\s(?:([${TICK}])|([${CROSS}]))\\uFE0F?$`, 'u');
/** "Q:" and "A:" before questions and answers. */
const LABEL = /^(?:q(?:uestion)?|a(?:nswer)?)\s?[:.)]\s+/i;

/** A line this short was ended on purpose; longer ones were only broken to fit a width. */
const BROKEN_AT = 45;
const LONGEST_HEADING = 90;

interface Line {
  text: string;
  start: number;
  blank: boolean;
}

function linesOf(text: string): Line[] {
  const out: Line[] = [];
  for (let at = 0; at <= text.length;) {
    const end = text.indexOf('\n', at);
    const until = end < 0 ? text.length : end;
    const raw = text.slice(at, until);
    const plain = raw.trim();
    out.push({ text: plain, start: at + (raw.length - raw.trimStart().length), blank: !/[\p{L}\p{N}]/u.test(plain) });
    at = until + 1;
  }
  return out;
}

const isItem = (line: Line | undefined): boolean => line !== undefined && !line.blank && ITEM.test(line.text);

/** Cells of a line that is a row: by bars, tabs, semicolons without spaces, or wide gaps. */
function cellsOf(line: string): string[] | null {
  const bars = /^\|.*\|$/.test(line) ? line.slice(1, -1).split('|') : null;
  const cells = (bars ?? (line.includes('\t') ? line.split('\t') : /\S {3,}\S/.test(line) ? line.split(/ {3,}/) : null))?.map((c) =>
    c.trim(),
  );
  const semicolons = /^[^;.]{1,40}(?:;[^;.\s][^;.]{0,40})+$/.test(line) ? line.split(';').map((c) => c.trim()) : null;
  const found = cells ?? semicolons;
  return found && found.length >= 2 && found.every((c) => c.length <= 60) ? found : null;
}

/** A line that says what the lines below are about. */
function isHeading(line: Line, next: Line | undefined): boolean {
  if (line.text.length > LONGEST_HEADING || isItem(line)) return false;
  if (/:$/.test(line.text)) return true;
  if (isItem(next) && /[?\p{L}\p{N})]$/u.test(line.text)) return true;
  return false;
}

/**
 * Cuts a text into what can be read by itself. Items keep the heading or the words they are introduced by, answers their
 * question, rows their table's head. Every word of the text that is no heading is in one unit. Takes time linear in the
 * length of the text.
 */
export function unitsOf(text: string): Unit[] {
  const lines = linesOf(text.replace(/\r\n?/g, (m) => (m.length === 2 ? ' \n' : '\n')));
  const out: Unit[] = [];
  let heading: string | null = null;
  /** Whether items were seen below the heading; a paragraph after them is not below it any more. */
  let itemsBelow = false;
  let question: string | null = null;
  let head: string[] | null = null;
  let paragraph: Line[] = [];
  const nextOf = (i: number): Line | undefined => {
    for (let n = i + 1; n < lines.length && n < i + 4; n++) if (!lines[n]!.blank) return lines[n];
    return undefined;
  };
  const unit = (plain: string, start: number, more: Partial<Unit> = {}): void => {
    if (/[\p{L}\p{N}]/u.test(plain))
      out.push({ text: plain, start, heading, question, mark: null, cells: null, isHeading: false, ...more });
  };
  /** Sentences of a run of lines; a question is kept for the sentences after it. */
  const sentences = (raw: string, start: number, more: Partial<Unit> = {}): void => {
    for (const s of sentencesOf(raw)) {
      const plain = s.text.replace(LABEL, '');
      if (/\?["'”’)]?$/.test(plain)) {
        flushQuestion();
        question = plain;
        asked = { text: plain, start: start + s.start };
      } else {
        unit(plain, start + s.start, more);
        asked = null;
      }
    }
  };
  /** A question that nothing answers stands by itself. */
  let asked: { text: string; start: number } | null = null;
  const flushQuestion = (): void => {
    if (asked) {
      question = null;
      unit(asked.text, asked.start);
    }
    asked = null;
    question = null;
  };
  const flush = (): void => {
    if (paragraph.length > 0) {
      const start = paragraph[0]!.start;
      const last = paragraph[paragraph.length - 1]!;
      sentences(text.slice(start, last.start + last.text.length), start);
      // What follows in another line answers nothing any more.
      if (!asked) question = null;
    }
    paragraph = [];
  };
  for (const [i, line] of lines.entries()) {
    // The rule between the head of a table and its rows.
    if (line.blank && head !== null && /^[|:\- ]+$/.test(line.text) && line.text !== '') continue;
    if (line.blank) {
      flush();
      head = null;
      if (!asked) question = null;
      continue;
    }
    const item = ITEM.exec(line.text);
    const ticked = ENDS_TICKED.exec(line.text);
    const mark = item?.[1] || ticked?.[1] ? 'yes' : item?.[2] || ticked?.[2] ? 'no' : null;
    const cells = item ? null : cellsOf(line.text);
    if (cells) {
      flush();
      flushQuestion();
      if (cells.every((c) => /^:?-+:?$/.test(c))) continue;
      if (head === null) {
        head = cells;
        // What stands in a head is told too: a first row may be none.
        unit(line.text.replace(/\s+/g, ' '), line.start, { cells });
      } else unit(line.text.replace(/\s+/g, ' '), line.start, { cells, heading: head.join(' | ') });
      continue;
    }
    head = null;
    const next = nextOf(i);
    if (!item && !ticked && isHeading(line, next)) {
      flush();
      flushQuestion();
      heading = null;
      // What a heading itself says may hold for everything.
      unit(line.text, line.start, { isHeading: true });
      heading = line.text;
      itemsBelow = false;
      continue;
    }
    if (item) {
      flush();
      flushQuestion();
      itemsBelow = true;
      const at = line.start + item[0].length - (/^\s*/.exec(item[0])?.[0].length ?? 0);
      const body = line.text.slice(item[0].trimStart().length);
      sentences(body.replace(ENDS_TICKED, ''), at, { mark });
      continue;
    }
    if (/\.{3,}\s*\S/.test(line.text) && line.text.length <= LONGEST_HEADING) {
      flush();
      flushQuestion();
      unit(line.text.replace(/\s+/g, ' '), line.start);
      continue;
    }
    if (ticked) {
      flush();
      unit(line.text.replace(ENDS_TICKED, '').replace(/\s+/g, ' '), line.start, { mark });
      continue;
    }
    if (heading !== null && (itemsBelow || line.text.length > BROKEN_AT)) heading = null;
    paragraph.push(line);
    if (line.text.length < BROKEN_AT || /[.!?:]["'”’)]?$/.test(line.text)) flush();
  }
  flush();
  flushQuestion();
  return out;
}
