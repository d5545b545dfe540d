import { describe, expect, it } from 'vitest';
import type { Recipe } from '../api/types';
import { askedSentence, askedWords, broughtWords, searched } from './recipe-words';

const recipe: Recipe = {
  key: 'cache-server',
  name: 'Cache server',
  thing: 'cache',
  about: 'Memory and keys.',
  words: ['evictions'],
  needs: [],
  heavy: '',
  asks: 'tcp',
  seconds: 30,
  inputs: [],
  metrics: [{ name: 'cache_clients', unit: '', help: '' }],
  rules: [
    { key: 'a', name: 'Cache throws keys out', because: '' },
    { key: 'b', name: 'B', because: '' },
  ],
  used: [],
};

describe('a recipe in words', () => {
  it.each([
    [{}, 'TCP, every 30\u00a0s'],
    [{ asks: 'metrics', seconds: 15 }, 'metrics as text, every 15\u00a0s'],
    [{ asks: '' }, 'brings rules alone'],
  ])('%o', (part, words) => expect(askedWords({ ...recipe, ...part })).toBe(words));

  it.each([
    [{}, 'Asked by a check: TCP, every 30\u00a0s.'],
    [{ asks: 'metrics' }, 'Asked for its metrics as text, every 30\u00a0s.'],
    [{ asks: '' }, 'It brings rules alone.'],
  ])('%o as a sentence', (part, words) => expect(askedSentence({ ...recipe, ...part })).toBe(words));

  it('says what it brings, and is found by all of it', () => {
    expect(broughtWords(recipe)).toBe('1\u00a0metric, 2\u00a0rules');
    expect(broughtWords({ ...recipe, metrics: [] })).toBe('2\u00a0rules');
    for (const word of ['cache', 'evictions', 'throws keys', 'cache_clients']) expect(searched(recipe)).toContain(word);
  });
});
