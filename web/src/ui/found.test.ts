import { expect, it } from 'vitest';
import { type Findable, found } from './found';

const thing = (kind: Findable['kind'], name: string, about = ''): Findable => ({ kind, name, about, to: '/' });
const all = [
  thing('page', 'Watch'),
  thing('rule', 'Boarding queue', 'mean(messaging_queue_depth, 1m)'),
  thing('target', 'web-3', 'tickets · skarn'),
  thing('metric', 'messaging_queue_depth', 'Messages waiting'),
  thing('metric', 'system_cpu_time_seconds_total'),
  thing('person', 'Ines Duarte', 'ines@saltmarsh.example'),
];
const names = (text: string) => found(all, text).map((one) => one.name);

it.each([
  ['queue', ['Boarding queue', 'messaging_queue_depth']],
  ['mess', ['messaging_queue_depth', 'Boarding queue']],
  ['skarn', ['web-3']],
  ['metric cpu', ['system_cpu_time_seconds_total']],
  ['cpu_time', ['system_cpu_time_seconds_total']],
  ['no such thing', []],
])('finds %s', (text, expected) => {
  expect(names(text)).toEqual(expected);
});

it('shows where one may go before anything is typed', () => {
  expect(names('  ')[0]).toBe('Watch');
});
