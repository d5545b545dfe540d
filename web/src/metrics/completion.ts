import type { FormulaFunction, LabelValues, Metric } from '../api/types';

export type Completion = { insert: string; shown: string; help: string };
const MOST = 12;
const NUMBER_OR_NAME = /[a-zA-Z_:][\w:]*$/;

/** What may come where the caret stands, and from where on it takes the place of what was typed. */
export function completionAt(
  text: string,
  caret: number,
  metrics: Metric[],
  functions: FormulaFunction[],
  labels: LabelValues[],
  rows: string[] = [],
): { from: number; options: Completion[] } | null {
  const before = text.slice(0, caret);
  const quoted = /(?:^|[\s(])(\w+)\s*(?:=|!=|like|matches|(?:not\s+)?in\s*\((?:\s*"[^"]*"\s*,)*)\s*"([^"]*)$/.exec(before);
  if (quoted) {
    const label = labels.find((one) => one.name === quoted[1]);
    const typed = quoted[2]!;
    const closes = text[caret] === '"' ? '' : '"';
    return some(
      caret - typed.length,
      (label?.values ?? [])
        .filter((value) => value.toLowerCase().includes(typed.toLowerCase()))
        .map((value) => ({ insert: value.replace(/["\\]/g, '\\$&') + closes, shown: value, help: `a value of ${label!.name}` })),
    );
  }
  const typed = NUMBER_OR_NAME.exec(before)?.[0] ?? '';
  const from = caret - typed.length;
  const lead = before.slice(0, from);
  if ((lead.match(/"/g)?.length ?? 0) % 2 === 1) return null;
  if (/(?:\bwhere|\bwhere\b[^,]*\b(?:and|or|not)|\bper|\bdropping|\b(?:per|dropping)\s+[\w, ]*,|\bon)\s*\(?\s*$/.test(lead)) {
    return some(
      from,
      labels
        .filter((label) => label.name.startsWith(typed))
        .map((label) => ({
          insert: label.name,
          shown: label.name,
          help: `${label.count} ${label.count === 1 ? 'value' : 'values'}: ${label.values.slice(0, 4).join(', ')}`,
        })),
    );
  }
  if (typed.length < 1 || /[\w")]\s+$/.test(lead)) return null;
  const word = typed.toLowerCase();
  const rank = (name: string) => (name.startsWith(word) ? 0 : name.split('_').some((part) => part.startsWith(word)) ? 1 : 2);
  return some(from, [
    ...rows
      .filter((name) => name.toLowerCase().startsWith(word) && name !== typed)
      .map((name) => ({ insert: name, shown: name, help: 'a row of this page' })),
    ...functions
      .filter((one) => one.name.startsWith(word))
      .map((one) => ({ insert: `${one.name}(`, shown: one.usages[0] ?? one.name, help: one.help })),
    ...metrics
      .filter((metric) => metric.name.toLowerCase().includes(word) && metric.name !== typed)
      .sort((a, b) => rank(a.name) - rank(b.name) || a.name.localeCompare(b.name))
      .map((metric) => ({
        insert: metric.name,
        shown: metric.name,
        help: [metric.type + (metric.unit && `, ${metric.unit}`), metric.help].filter(Boolean).join(' · '),
      })),
  ]);
}

function some(from: number, options: Completion[]) {
  return { from, options: options.slice(0, MOST) };
}
