import type { Recipe } from '../api/types';
import { many, span } from '../ui/format';
import { KINDS, type Kind } from '../fleet/checks/asked';

/** How it is asked, in a few words. */
export function askedWords({ asks, seconds }: Recipe): string {
  if (asks === '') return 'brings rules alone';
  const every = `every ${span(seconds * 1000)}`;
  return asks === 'metrics' ? `metrics as text, ${every}` : `${KINDS[asks as Kind]}, ${every}`;
}

/** The same, as a sentence of its own. */
export const askedSentence = (recipe: Recipe): string => {
  const words = askedWords(recipe);
  if (recipe.asks === '') return `It ${words}.`;
  return recipe.asks === 'metrics' ? `Asked for its ${words}.` : `Asked by a check: ${words}.`;
};

/** What it brings, as one says it: `9 metrics, 2 rules`. */
export const broughtWords = ({ metrics, rules }: Recipe): string =>
  [metrics.length > 0 && many(metrics.length, 'metric'), rules.length > 0 && many(rules.length, 'rule')]
    .filter((words) => words !== false)
    .join(', ');

/** All that a search may find it by. */
export const searched = ({ name, thing, about, words, metrics, rules }: Recipe): string =>
  [name, thing, about, ...words, ...metrics.map((one) => one.name), ...rules.map((one) => one.name)].join(' ').toLowerCase();
