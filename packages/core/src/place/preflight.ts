import type { TargetFormat } from '../convert/index.js';
import type { Embedding, Finding } from '../face/index.js';
import type { Verdict } from '../rights/index.js';
import type { FontFormat } from '../sfnt/index.js';
import type { Profile } from './profile.js';

/** What can be done about a finding with one press. */
export type Remedy =
  | { action: 'convert'; to: TargetFormat; label: string }
  | { action: 'license'; label: string }
  | { action: 'choose-another'; label: string };

/** One result of the check of a face against a place. `stops`: the place would refuse, or we must. */
export interface PreflightFinding {
  code: string;
  severity: 'stops' | 'mended' | 'ask' | 'note';
  /** What is wrong, why the place minds, what mends it. */
  message: string;
  remedy: Remedy | null;
}

export interface PreflightInput {
  faceName: string;
  placeName: string;
  embedding: Embedding;
  faults: readonly Finding[];
  /** Verdicts of every use that putting it there is: the place's own, and changing the file where it is converted. */
  verdicts: readonly Verdict[];
  /** What of the rights asks for attention, in sentences. */
  notes: readonly string[];
  /** Files of the face as they are. */
  files: readonly { format: FontFormat; bytes: number }[];
  /** Bytes of the converted file, once known. */
  converted: { format: TargetFormat; bytes: number } | null;
  /** Whether the person has asked for the conversion. */
  convertTo: TargetFormat | null;
}

const mib = (bytes: number): string => (bytes < 1024 * 1024 ? `${Math.ceil(bytes / 1024)} KiB` : `${(bytes / 1024 / 1024).toFixed(1)} MiB`);

/** Foresees what a place will say to a face, in the order in which a person should read it. */
export function preflight(profile: Profile, input: PreflightInput): PreflightFinding[] {
  return [...rights(input), ...soundness(input), ...embedding(profile, input), ...container(profile, input)];
}

function rights({ verdicts, notes }: PreflightInput): PreflightFinding[] {
  const out = verdicts
    .filter((v) => v.answer !== 'yes')
    .map((v): PreflightFinding => {
      const changing = v.use === 'changing';
      return {
        code: `${v.answer === 'no' ? 'no-right' : 'right-unclear'}${changing ? '-to-change' : ''}`,
        severity: v.answer === 'no' ? 'stops' : 'ask',
        message: `${v.reasons[0] ?? ''} ${
          changing
            ? 'Putting it into another container changes the file. A file in the right container from the maker needs no such right.'
            : 'Putting a face where others can load it without the right to do so can cost you more than the face.'
        }`.trim(),
        // A license that says no is looked at; where nothing is on record there is something to record.
        remedy: { action: 'license', label: v.licenseId ? 'Open the license' : 'Record the license' },
      };
    });
  for (const note of notes) out.push({ code: 'right-near-its-end', severity: 'note', message: note, remedy: null });
  return out;
}

function soundness({ faults, placeName }: PreflightInput): PreflightFinding[] {
  return faults
    .filter((f) => f.severity === 'blocks')
    .map((f) => ({
      code: f.code,
      severity: 'stops',
      message: `${f.message} ${placeName} checks this and will not take it. Ask whoever made the face for a sound file.`,
      remedy: { action: 'choose-another', label: 'Choose another face' },
    }));
}

function embedding(profile: Profile, { embedding: permission, faceName, placeName }: PreflightInput): PreflightFinding[] {
  const refused = (code: string, what: string): PreflightFinding => ({
    code,
    severity: 'stops',
    message: `${what} ${placeName} reads this permission and refuses such files. We never change it; ask the maker of ${faceName} for a file that permits it.`,
    remedy: { action: 'choose-another', label: 'Choose another face' },
  });
  if (permission.level === 'restricted' && profile.embedding.restricted === 'refused')
    return [refused('embedding-restricted', 'The font file forbids embedding (fsType: restricted).')];
  if (permission.bitmapOnly && profile.embedding.bitmapOnly === 'refused')
    return [
      refused(
        'embedding-bitmap-only',
        'The font file only lets bitmaps of it be embedded (fsType: bitmap only), and a web font is outlines.',
      ),
    ];
  return [];
}

function container(profile: Profile, input: PreflightInput): PreflightFinding[] {
  const list = profile.formats.map((f) => f.toUpperCase()).join(' and ');
  const ready = input.files.find((f) => (profile.formats as readonly string[]).includes(f.format));
  if (!ready && !input.convertTo)
    return [
      {
        code: 'format',
        severity: 'stops',
        message: `${input.placeName} takes ${list} only, and this face is here as ${[...new Set(input.files.map((f) => f.format.toUpperCase()))].join(' and ')}. It is the same face in another container, so nothing of it is lost.`,
        remedy: { action: 'convert', to: profile.prefer, label: `Convert to ${profile.prefer.toUpperCase()}` },
      },
    ];
  const sent = input.convertTo ? input.converted : (ready ?? null);
  const out: PreflightFinding[] = [];
  if (sent && sent.bytes > profile.maxBytes)
    out.push({
      code: 'too-large',
      severity: 'stops',
      message: `The file would be ${mib(sent.bytes)} and ${input.placeName} takes ${mib(profile.maxBytes)} at most. A face with fewer characters will fit.`,
      remedy:
        !input.convertTo && sent.format !== profile.prefer
          ? { action: 'convert', to: profile.prefer, label: `Convert to ${profile.prefer.toUpperCase()}` }
          : { action: 'choose-another', label: 'Choose another face' },
    });
  else if (input.convertTo && sent) {
    const before = input.files[0];
    out.push({
      code: 'converted',
      severity: 'mended',
      message: `It goes out as ${sent.format.toUpperCase()}, ${mib(sent.bytes)}${before ? ` instead of ${mib(before.bytes)}` : ''}.`,
      remedy: null,
    });
  }
  return out;
}
