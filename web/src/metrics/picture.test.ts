import { describe, expect, it } from 'vitest';
import { type Drawn, csvOf, svgOf } from './picture';

const drawn: Drawn = {
  title: 'sum(x where note = "<b> & more")',
  unit: 'bytes',
  times: [0, 60_000, 120_000, 180_000],
  lines: [
    { name: 'a, "quoted"', hue: '#5e7320', values: [1024, null, 0.5, 2048] },
    { name: '', hue: '#2f6690', values: [null, null, null, -1e-7] },
  ],
  clock: (at) => `minute ${at / 60_000}`,
};

describe('what is seen, as CSV', () => {
  const rows = csvOf(drawn).split('\r\n');
  it('quotes names and leaves out what is not there', () =>
    expect(rows).toEqual([
      'time,"a, ""quoted""",value',
      '1970-01-01T00:00:00.000Z,1024,',
      '1970-01-01T00:01:00.000Z,,',
      '1970-01-01T00:02:00.000Z,0.5,',
      '1970-01-01T00:03:00.000Z,2048,-1e-7',
      '',
    ]));
});

describe('what is seen, as a picture', () => {
  const svg = svgOf(drawn);
  it('is well formed whatever the title and the names hold', () => {
    expect(svg).toContain('sum(x where note = &quot;&lt;b&gt; &amp; more&quot;)');
    expect(svg).toContain('a, &quot;quoted&quot;');
    expect(svg).not.toMatch(/NaN|undefined|Infinity/);
    expect(svg.replace(/<(\w+)(?:\s[^<>]*)?\/>|<(\w+)(?:\s[^<>]*)?>[^<>]*<\/\2>/g, '')).toMatch(/^<svg [^<>]*>\s*<\/svg>$/);
  });
  it('breaks its lines at gaps', () => {
    const paths = [...svg.matchAll(/<path d="([^"]*)"/g)].map((match) => match[1]!);
    expect(paths.map((path) => path.replace(/[^ML]/g, ''))).toEqual(['MML', 'M']);
  });
  it('draws one instant and nothing at all without failing', () => {
    expect(svgOf({ ...drawn, times: [0], lines: [{ name: 'one', hue: '#000000', values: [5] }] })).not.toMatch(
      /NaN|undefined|Infinity/,
    );
    expect(svgOf({ ...drawn, times: [0, 1], lines: [{ name: 'none', hue: '#000000', values: [null, null] }] })).not.toMatch(
      /NaN|undefined|Infinity/,
    );
  });
});
