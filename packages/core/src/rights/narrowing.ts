import {
  ALLOWS,
  CONDITIONS,
  FORBIDS,
  HARMLESS_BESIDE,
  HOLDS,
  NEEDS_LICENSE,
  NOT_ONLY_PERSONAL,
  ONLY,
  PERSONAL,
  SOFTENERS,
  USE_PATTERNS,
} from './data/narrowing-words.js';
import { USES, type Answer, type Use } from './uses.js';

/** A sentence beside a known license that takes back or conditions a use. */
export interface Narrowing {
  use: Use;
  /** The sentence as it stands, and where it begins, in UTF-16 units. */
  sentence: string;
  start: number;
}

interface Clause {
  text: string;
  sentence: string;
  start: number;
}

/** Cuts a text into sentences, and these where the direction may turn ("but", "however", a semicolon). */
function clausesOf(text: string): Clause[] {
  const out: Clause[] = [];
  const plain = text.replace(/\r\n?/g, '\n');
  for (const match of plain.matchAll(/[^.!?\n]+(?:\.(?=\S)[^.!?\n]*)*(?:[.!?]+|\n|$)/g)) {
    const sentence = match[0].trim();
    if (sentence.length < 4) continue;
    const start = match.index + match[0].indexOf(sentence);
    for (const part of sentence.split(
      /;|\s(?=but\s|however\b|although\b|except\s|excluding\b|though\b)|,\s(?=but\s|not\s(?!only)|no\s|never\s|however\b|except\b)/i,
    ))
      if (part.trim().length > 2) out.push({ text: part.trim(), sentence, start });
  }
  return out;
}

const any = (patterns: readonly RegExp[], text: string): boolean => patterns.some((p) => p.test(text));

/** The direction of one clause; null when it says nothing about what is allowed. */
function directionOf(clause: string): Answer | null {
  // "Not only for print but also ..." and "not limited to" deny nothing.
  const text = SOFTENERS.reduce((t, p) => t.replace(p, ' '), clause);
  if (any(NEEDS_LICENSE, text) || any(FORBIDS, text) || /^(except|excluding|but not|not|no|never)\b/i.test(text)) return 'no';
  if (any(ALLOWS, text)) return any(CONDITIONS, text) ? 'ask' : 'yes';
  return null;
}

/**
 * What the words around a known license take back of it: whose text stands there whole needs no more than one sentence to be
 * left open for a use. Rather too much is left open than too little; what allows is not looked for.
 */
export function readNarrowing(text: string): Narrowing[] {
  const found = new Map<Use, Narrowing>();
  const narrow = (uses: readonly Use[], { sentence, start }: Clause): void => {
    for (const use of uses) if (!found.has(use)) found.set(use, { use, sentence, start });
  };
  let inherited: Answer | null = null;
  let last = '';
  for (const clause of clausesOf(text)) {
    if (clause.sentence !== last) {
      inherited = null;
      const plain = [...HARMLESS_BESIDE, ...SOFTENERS].reduce((t, p) => t.replace(p, ' '), clause.sentence);
      if (any(HOLDS, plain)) narrow(USES, clause);
    }
    last = clause.sentence;
    const only = ONLY.find((o) => o.pattern.test(clause.text));
    if (only) {
      narrow([...only.denies, ...(only.asks ?? [])], clause);
      continue;
    }
    const direction: Answer | null = directionOf(clause.text) ?? inherited;
    if (!direction) continue;
    inherited = direction;
    const personal = direction === 'yes' && PERSONAL.test(clause.text) && !NOT_ONLY_PERSONAL.test(clause.text);
    if (direction !== 'yes' || personal)
      for (const { uses, patterns } of USE_PATTERNS) if (any(patterns, clause.text)) narrow(uses, clause);
  }
  return [...found.values()];
}
