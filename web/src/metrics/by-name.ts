/** A row's name that other rows can use in their formulas: a letter, then letters, digits and low lines. */
export const isUsable = (name: string): boolean => /^[a-zA-Z]\w*$/.test(name) && !WORDS.has(name.toLowerCase());

const WORDS = new Set([
  'where',
  'per',
  'dropping',
  'on',
  'and',
  'or',
  'not',
  'in',
  'like',
  'matches',
  'ago',
  'default',
  'unless',
  'bring',
  'inf',
  'nan',
  'true',
  'false',
]);
/** A quoted text, or a name; what stands in quotes is never one. */
const PARTS = /"(?:[^"\\]|\\.)*"|[a-zA-Z_:][\w:]*/g;
/** Before the name of a label stands one of these, or after it a comparison of labels. */
const LABEL_BEFORE = /\b(?:where|per|dropping|on|bring)\s*\(?\s*(?:\w+\s*,\s*)*$/;
const LABEL_AFTER = /^\s*(?:=|!=|like\b|matches\b|in\b|not\s+in\b)/;

/**
 * The formulas with the names of other rows put in their place: `depth / 60` beside a row named `depth` becomes `(messaging_queue_depth) / 60`.
 * A row that leads back to itself keeps its name as it is, and is told as an unknown one.
 */
export function byName(formulas: string[], names: (string | undefined)[]): string[] {
  const rows = new Map(
    formulas.flatMap((formula, i) => (names[i] && isUsable(names[i]) ? [[names[i], { formula, at: i }] as const] : [])),
  );
  const written = (formula: string, within: readonly number[]): string =>
    formula.replace(PARTS, (part, offset: number) => {
      const row = rows.get(part);
      const [before, after] = [formula.slice(0, offset), formula.slice(offset + part.length)];
      if (!row || within.includes(row.at) || /^\s*\(/.test(after) || LABEL_AFTER.test(after) || LABEL_BEFORE.test(before))
        return part;
      return `(${written(row.formula, [...within, row.at])})`;
    });
  return formulas.map((formula, i) => written(formula, [i]));
}
