const RENAMED: [RegExp, string][] = [
  [/\bincrease(?=\s*\()/g, 'growth'],
  [/\bolivine_scrape_duration_seconds\b/g, 'olivine_scrape_took_seconds'],
];

/** A formula out of an old link, or kept in this browser, in today's words; what stands in quotes stays. */
export const carried = (formula: string): string =>
  formula
    .split(/("(?:[^"\\]|\\.)*")/)
    .map((part, i) => (i % 2 === 1 ? part : RENAMED.reduce((text, [old, now]) => text.replace(old, now), part)))
    .join('');
