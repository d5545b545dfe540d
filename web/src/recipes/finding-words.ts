import type { Finding, Findings } from '../api/types';
import { many } from '../ui/format';

/** By how much they matter. */
export const GRADES = ['mend', 'look', 'know'] as const;
export const GRADE_WORDS: Record<Finding['grade'], string> = {
  mend: 'Should be mended',
  look: 'Worth a look',
  know: 'Worth knowing',
};

/** What stands first, in a sentence. */
export function findingsSentence({ findings, lookedAt }: Findings): string {
  if (lookedAt === null) return 'Nobody looked yet.';
  const open = findings.filter((one) => one.asideAt === null);
  if (open.length === 0) return findings.length === 0 ? 'Nothing was found.' : 'Nothing else was found.';
  const mend = open.filter((one) => one.grade === 'mend').length;
  return `${many(open.length, 'finding')}${mend > 0 ? `, ${mend} of them should be mended` : ''}.`;
}

/** Those of one grade, the oldest first; what was left aside is not among them. */
export const ofGrade = (findings: Finding[], grade: Finding['grade']): Finding[] =>
  findings.filter((one) => one.grade === grade && one.asideAt === null).sort((a, b) => a.firstAt - b.firstAt);
