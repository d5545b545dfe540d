import { expect, test } from 'vitest';
import { emptyStep, metricName, stepOf, textOf } from './check-text';

const whole = {
  name: 'login',
  method: 'POST' as const,
  url: 'http://web-1:9105/login',
  headers: [
    { name: 'X-Token', value: '{token}: {other}' },
    { name: 'Accept', value: '' },
  ],
  body: '{"a": "{password}"}\n',
  follows: false,
  expects: 'status 200 and "Book now"',
  patienceSeconds: 2.5,
  takes: [{ name: 'token', where: 'html //input[@name="csrf"]/@value' }],
  values: [
    { metric: 'tide_height', where: 'json /water/height', unit: 'm', counts: false },
    { metric: 'sold_total', where: 'json /sold', unit: '', counts: true },
  ],
};

test('what is sent is read back as it was written', () => {
  expect(stepOf(textOf(whole))).toEqual(whole);
  expect(textOf(stepOf({ ...emptyStep(), url: 'http://web-1:9105/' }))).toEqual({ ...emptyStep(), url: 'http://web-1:9105/' });
});

test.each([
  ['tide in m = json /a = 1', { metric: 'tide', unit: 'm', counts: false, where: 'json /a = 1' }],
  ['tide', { metric: 'tide', unit: '', counts: false, where: '?' }],
  ['two words = json /a', { metric: 'two words', unit: '', counts: false, where: 'json /a' }],
])('%s', (line, sent) => {
  expect(stepOf({ ...emptyStep(), values: `\n ${line} \n` }).values).toEqual([sent]);
});

test.each([
  ['/water/height', 'water_height'],
  ['//td[@id="free"]', 'id_free'],
  ['/0/1', 'value'],
])('a metric at %s may be called %s', (where, name) => expect(metricName(where)).toBe(name));
