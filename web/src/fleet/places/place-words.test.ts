import { expect, it } from 'vitest';
import type { Place } from '../../api/types';
import { placesSentence } from './place-words';

const AT = Date.UTC(2026, 10, 29, 5, 8);
const place = (name: string, more: Partial<Place> = {}): Place => ({
  id: 1,
  name,
  isCentre: false,
  seenAt: AT,
  isSilent: false,
  checks: 3,
  references: ['harbour clock'],
  cutOffSince: null,
  load: null,
  ...more,
});

it.each([
  ['the centre alone', [place('centre')], 'Checks are asked from the centre alone.'],
  ['all well', [place('centre'), place('Skarn')], 'Checks are asked from 2 places, and all of them are well.'],
  [
    'one is cut off',
    [place('centre'), place('Skarn', { cutOffSince: AT })],
    'Skarn is cut off since 05:08; verdicts from there are held.',
  ],
  [
    'one is silent, another cut off',
    [place('centre'), place('Skarn', { cutOffSince: AT }), place('Greyhaven', { isSilent: true })],
    'Skarn is cut off since 05:08; verdicts from there are held. Nothing is heard of Greyhaven.',
  ],
  [
    'all that could tell are cut off',
    [place('centre', { cutOffSince: AT + 60_000 }), place('Skarn', { cutOffSince: AT }), place('pier', { references: [] })],
    'We are the ones who are cut off, since 05:08; all verdicts are held.',
  ],
])('%s', (_, places, sentence) => expect(placesSentence(places, 'UTC').replaceAll('\u00a0', ' ')).toBe(sentence));
