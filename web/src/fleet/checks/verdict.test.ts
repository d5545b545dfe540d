import { expect, it } from 'vitest';
import { dayWords } from './verdict';

const TO = 1_795_900_000_000;
const day = (minutes: number, available: number, unknown = 0, slow = 0, from = TO - 86_400_000) => ({
  from,
  to: TO,
  minutes,
  available,
  unknown,
  slow,
});

it.each([
  ['all of it', day(1440, 1440), 1, 'There in 1,440 of 1,440 minutes of the last day, 100 %.'],
  ['never rounded up to all of it', day(100_000, 99_999), 1, 'There in 99,999 of 100,000 minutes of the last day, 99.99 %.'],
  [
    'what nobody knows is left out, and said',
    day(1440, 1430, 8, 3),
    3,
    'There in 1,430 of 1,432 minutes of the last day, 99.86 %, seen from more than half of its places; slow in 3; of 8 more nobody knows.',
  ],
  ['a new one', day(10, 9, 0, 0, TO - 600_000), 1, 'There in 9 of 10 minutes since it was added, 90.00 %.'],
])('%s', (_, minutes, places, words) => expect(dayWords(minutes, places).replace(/[\u00a0\u202f]/g, ' ')).toBe(words));
