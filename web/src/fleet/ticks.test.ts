import { describe, expect, it } from 'vitest';
import { afterWords, heightOf, lastSign, tickWords, ticksOf } from './ticks';

const of = (ticks: string, intervalSeconds = 15) => ticksOf({ ticks, intervalSeconds });
const hows = (ticks: string, intervalSeconds = 15) => of(ticks, intervalSeconds).map(({ how, afterMs }) => `${how} ${afterMs}`);

describe('the ticks of a target', () => {
  it.each<[string, string, string[]]>([
    ['none yet', '', []],
    ['on time', '100+40 115+80 130+7500', ['on time 40', 'on time 80', 'on time 7500']],
    ['late by more than half an interval', '100+40 115+7501', ['on time 40', 'late 7501']],
    ['failed and refused', '100-5000 115!30 130+20', ['failed 5000', 'refused 30', 'on time 20']],
    ['one is missing: the next one is late', '100+40 130+20', ['on time 40', 'late 15000']],
    ['a little apart is not missing', '100+40 122+20', ['on time 40', 'on time 20']],
    ['three are missing', '100+40 160+20', ['on time 40', 'late 45000']],
    ['after a pause none is missing', '100+40 115/ 1000+20 1015+30', ['on time 40', 'paused 0', 'on time 20', 'on time 30']],
    ['a failed one that was missing, too', '100+40 145-10', ['on time 40', 'failed 30000']],
    ['what is no tick is passed over', 'x 100+40 y115 115+60', ['on time 40', 'on time 60']],
  ])('%s', (_, ticks, expected) => expect(hows(ticks)).toEqual(expected));

  it('are by their own interval', () => {
    expect(hows('100+9000 160+9000', 60)).toEqual(['on time 9000', 'on time 9000']);
    expect(hows('100+9000 115+9000', 15)).toEqual(['late 9000', 'late 9000']);
  });

  it('stand as high as they are late, and no higher than an interval', () => {
    expect([0, 150, 3_750, 15_000, 900_000].map((afterMs) => Number(heightOf({ afterMs }, 15).toFixed(2)))).toEqual([
      0, 0.1, 0.5, 1, 1,
    ]);
  });

  it.each([
    ['', ''],
    ['100+40', '+'],
    ['100+40 115-5000', '-'],
    ['100+40 115!', '!'],
    ['100+40 115/', '/'],
  ])('end with the newest sign: "%s"', (ticks, sign) => expect(lastSign(ticks)).toBe(sign));

  it.each<[string, string]>([
    ['', 'no scrapes yet'],
    ['100/ 115/', 'no scrapes yet'],
    ['100+40 115+80', 'all of the last 2 scrapes on time; the latest 80 ms after its time'],
    [
      '100+40 115-5000 130-5000 145!2 160+9000',
      'of the last 5 scrapes 2 failed, 1 refused, 1 late; the latest 9.0 s after its time',
    ],
    ['100-5000', 'of the last 1 scrapes 1 failed'],
  ])('are said to those who do not see them: "%s"', (ticks, words) => expect(tickWords(of(ticks))).toBe(words));

  it.each([
    [0, '0 ms'],
    [999.4, '999 ms'],
    [1_000, '1.0 s'],
    [9_949, '9.9 s'],
    [75_000, '1 min'],
  ])('%d ms are %s', (milliseconds, words) => expect(afterWords(milliseconds).replaceAll('\u00a0', ' ')).toContain(words));
});
