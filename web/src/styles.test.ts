/// <reference types="node" />
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

/** The tokens of a theme, as styles.css sets them. */
function themes(): Record<string, Record<string, string>> {
  const css = readFileSync(new URL('./styles.css', import.meta.url), 'utf8');
  const found: Record<string, Record<string, string>> = {};
  for (const [, selector, body] of css.matchAll(/(:root[^{]*)\{([^}]*--paper[^}]*)\}/g)) {
    found[selector!.trim()] = Object.fromEntries(
      [...body!.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6})/g)].map(([, name, hue]) => [name!, hue!] as const),
    );
  }
  return found;
}

/** Relative luminance and contrast as WCAG 2.2 defines them. */
function luminance(hue: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((at) => parseInt(hue.slice(at, at + 2), 16) / 255)
    .map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}
function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((one, other) => one - other);
  return (high! + 0.05) / (low! + 0.05);
}

const TEXT = 4.5;
const SIGN = 3;
/** What stands on what: text needs more than a sign does. */
const PAIRS: [string, string, number][] = [
  ...['paper', 'sheet', 'future', 'accent-soft'].flatMap((ground): [string, string, number][] => [
    ['ink', ground, TEXT],
    ['muted', ground, TEXT],
  ]),
  ...['critical', 'major', 'minor', 'warning', 'blind'].flatMap((hue): [string, string, number][] => [
    [hue, 'paper', TEXT],
    [hue, 'sheet', TEXT],
    [hue, 'future', SIGN],
  ]),
  ['sheet', 'accent', TEXT],
  ['paper', 'ink', TEXT],
  ['accent', 'sheet', SIGN],
  ['accent', 'paper', SIGN],
  ['accent', 'accent-soft', SIGN],
];

describe.each(Object.entries(themes()))('in the theme %s', (_, tokens) => {
  it.each(PAIRS)('%s on %s can be read', (hue, ground, least) =>
    expect(contrast(tokens[hue]!, tokens[ground]!)).toBeGreaterThanOrEqual(least),
  );
});

it('has all its themes, and the one that is chosen is the one that the system sets', () => {
  const [light, ofSystem, chosen] = Object.values(themes());
  expect(Object.keys(light!)).toEqual(Object.keys(chosen!));
  expect(ofSystem).toEqual(chosen);
});
