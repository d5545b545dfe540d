import type { SaidFormula } from '../api/types';
import { span } from '../ui/format';
import { durationWords } from '../ui/form/words';

/** How a window counts, as it follows "the": the mean over 5 min. Those that have no words go by their names. */
export const REDUCERS: Record<string, string> = {
  mean: 'mean',
  max: 'highest',
  min: 'lowest',
  sum: 'total',
  median: 'median',
  rate: 'rate a second',
  growth: 'growth',
  change: 'change',
  range: 'range',
  count: 'number of readings',
};
/** How series are put together. */
export const ACROSS: Record<string, string> = {
  sum: 'sum',
  mean: 'mean',
  max: 'highest',
  min: 'lowest',
  count: 'number',
  median: 'median',
};
const PLAIN = /^[a-zA-Z_:][\w:]*$/;
const quoted = (name: string) => (PLAIN.test(name) ? name : `\`${name}\``);

/** The formula that says this. */
export function written({ across, metric, per, reducer, tests, windowSeconds }: SaidFormula): string {
  const selected = quoted(metric) + (tests.length > 0 ? ` where ${tests.join(' and ')}` : '');
  const counted = reducer === null ? selected : `${reducer}(${selected}, ${durationWords(windowSeconds)})`;
  return across === null ? counted : `${across}(${counted})${per.length > 0 ? ` per ${per.map(quoted).join(', ')}` : ''}`;
}

/** `mean over 5 min`, `last reading`. */
export const windowWords = ({ reducer, windowSeconds }: SaidFormula): string =>
  reducer === null ? 'last reading' : `${REDUCERS[reducer] ?? reducer} over ${span(windowSeconds * 1000)}`;

export const metricWords = (metric: string): string => metric.replaceAll('_', ' ');

/** `queue is boarding and site is not skarn`. */
export function filterWords(tests: string[]): string {
  const words = tests.map((test) => {
    const plain = /^(\w+) (=|!=) "((?:[^"\\]|\\.)*)"$/.exec(test);
    return plain ? `${plain[1]!} ${plain[2] === '=' ? 'is' : 'is not'} ${plain[3]!}` : test;
  });
  return words.join(' and ');
}

/** A test that a label has this value. */
export const testOf = (label: string, value: string): string => `${quoted(label)} = "${value.replace(/["\\]/g, '\\$&')}"`;

/** `each series by itself`, `sum per broker`. */
export const acrossWords = ({ across, per }: SaidFormula): string =>
  across === null
    ? 'each series by itself'
    : `the ${ACROSS[across] ?? across}${per.length > 0 ? ` per ${per.join(', ')}` : ' of all'}`;
