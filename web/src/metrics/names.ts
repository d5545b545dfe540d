import type { ChartLine, Labels } from '../api/types';

/** Names each line by the labels that tell it from the others. */
export function named(lines: ChartLine[]): { name: string; labels: Labels; values: (number | null)[] }[] {
  const names = [...new Set(lines.flatMap((line) => Object.keys(line.labels)))];
  const telling = names.filter((name) => new Set(lines.map((line) => line.labels[name] ?? '')).size > 1);
  const rest = telling.filter(
    (name) => name !== 'target' || telling.every((one) => one === 'target' || one === 'site' || one === 'service'),
  );
  const use =
    telling.length === 0 ? names.filter((name) => ['host', 'broker', 'container', 'database', 'queue'].includes(name)) : rest;
  return lines.map((line) => ({
    ...line,
    name: use
      .map((name) => line.labels[name])
      .filter(Boolean)
      .join(' · '),
  }));
}

/** The first metric that a formula names. */
export function metricOf(formula: string): string {
  const words = formula.replace(/"(?:[^"\\]|\\.)*"/g, '').matchAll(/[a-zA-Z_:][\w:]*\b(?!\s*\()/g);
  for (const [word] of words) if (word.includes('_')) return word;
  return '';
}

/** Labels that tell one of several alike from the others; any other label tells unlike things apart. */
const WHICH_ONE = new Set(['host', 'target', 'container', 'broker', 'database', 'proxy', 'instance', 'site', 'zone']);

/** Lines of things of one kind, by their places: hosts behind one balancer are twins, queues of one broker are not. */
export function twins(lines: ChartLine[]): number[][] {
  const kinds = new Map<string, number[]>();
  lines.forEach((line, i) => {
    const kind = Object.entries(line.labels)
      .map(([name, value]) => (WHICH_ONE.has(name) ? name : `${name}=${value}`))
      .sort()
      .join('\n');
    kinds.set(kind, [...(kinds.get(kind) ?? []), i]);
  });
  return [...kinds.values()].filter(
    (places) =>
      places.length > 1 &&
      places.some((i) => Object.keys(lines[i]!.labels).some((name) => WHICH_ONE.has(name) && name !== 'site' && name !== 'zone')),
  );
}
