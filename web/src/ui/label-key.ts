import type { Labels } from '../api/types';

/** The same text as LabelSet::key() on the server writes. */
export function labelKey(labels: Labels): string {
  return Object.entries(labels)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, value]) => `${name}="${value.replace(/[\\"]/g, '\\$&').replaceAll('\n', '\\n')}"`)
    .join(',');
}
