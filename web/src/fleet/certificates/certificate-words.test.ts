import { describe, expect, it } from 'vitest';
import { DAY_MS, certificatesSentence, endingOf, leftWords } from './certificate-words';

const NOW = 1_764_000_000_000;
const ends = (...days: number[]) =>
  days.map((left) => ({
    target: 1,
    name: 'a',
    kind: 'tls',
    service: '',
    file: '',
    subject: 's',
    issuer: 'i',
    for: 's',
    endsAt: NOW + left * DAY_MS,
  }));
const plainly = (text: string) => text.replaceAll('\u00a0', ' ');

describe('certificates', () => {
  it.each<[number[], string]>([
    [[], 'No certificate is known yet.'],
    [[40, 90], 'The first of 2 certificates ends in 40 d.'],
    [[3, 90], '1 certificate ends within three weeks, in 3 d.'],
    [[-2, 3, 20, 22], '1 certificate has ended. 2 certificates end within three weeks, the first in 3 d.'],
    [[-2, -1], '2 certificates have ended.'],
  ])('that end in %s days: %s', (days, words) =>
    expect(plainly(certificatesSentence({ certificates: ends(...days) }, NOW))).toBe(words),
  );

  it('have ended on the very instant', () => {
    const [now] = ends(0);
    expect(endingOf(now!, NOW)).toBe('ended');
    expect(plainly(leftWords(now!, NOW))).toBe('0 s ago');
  });
});
