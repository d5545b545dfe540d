import { describe, expect, it } from 'vitest';
import { labelsIn } from './labels-in';

describe('labels as they are written', () => {
  it.each<[string, Record<string, string>]>([
    ['', {}],
    ['  ', {}],
    ['service=tickets', { service: 'tickets' }],
    ['service=boarding-gate  broker=broker-north', { service: 'boarding-gate', broker: 'broker-north' }],
    ['site="port ellery" service=tickets', { site: 'port ellery', service: 'tickets' }],
    ['site="" service=', { site: '', service: '' }],
    ['path=/a=b', { path: '/a=b' }],
    ['tickets', { tickets: '' }],
    ['site=Grünau', { site: 'Grünau' }],
  ])('%s', (written, labels) => expect(labelsIn(written)).toEqual(labels));
});
