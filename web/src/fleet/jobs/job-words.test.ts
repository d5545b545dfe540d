import { describe, expect, it } from 'vitest';
import type { Job } from '../../api/types';
import { jobSentence, jobsSentence, lineWords } from './job-words';
import { howRun, stripWords } from './strip';

const loose = (words: string) => words.replace(/[\u00a0\u202f]/g, ' ');
const NOW = 1_795_900_000_000;
const HOUR = 3_600_000;
const run = (began: number, took: number | null, outcome: 'done' | 'failed' | null = 'done', exitCode: number | null = 0) => ({
  id: began,
  beganAt: NOW + began,
  endedAt: took === null ? null : NOW + began + took,
  outcome: took === null ? null : outcome,
  exitCode,
});
const job = (name: string, verdict: Job['state']['verdict'], more: Partial<Job['state']> = {}, paused = false): Job => ({
  settings: {
    id: 1,
    name,
    schedule: 'daily at 02:30 Europe/Lisbon',
    cron: '30 2 * * *',
    zone: 'Europe/Lisbon',
    everySeconds: null,
    graceSeconds: 900,
    longestSeconds: null,
    mostAtOnce: 1,
    labels: {},
    paused,
    version: 1,
  },
  state: { verdict, words: '', due: NOW + HOUR, needsSomebody: false, ...more },
  expected: [],
  runs: [run(-2 * HOUR, 1_500_000)],
});

describe('what is to be said of jobs', () => {
  it.each([
    ['none', [], 'No job reports here yet.'],
    ['one that is well', [job('backup', 'well')], 'The one job is as it should be.'],
    ['late is not wrong yet', [job('backup', 'late'), job('import', 'running')], 'All 2 jobs are as they should be.'],
    [
      'the gravest first',
      [job('import', 'failing'), job('backup', 'missing'), job('lamps', 'never reported')],
      '“lamps” never reported; “backup” is missing; “import” fails.',
    ],
    ['two of a kind', [job('a', 'missing'), job('b', 'missing')], '“a” and “b” are missing.'],
    ['a paused one is nobody’s concern', [job('a', 'missing', {}, true), job('b', 'well')], 'The one job is as it should be.'],
  ])('%s', (_, jobs, sentence) => expect(loose(jobsSentence(jobs))).toBe(sentence));

  it.each([
    ['well: when it comes next', job('a', 'well'), /^next \d\d:\d\d, in 1.h$/],
    ['far away: with its day', job('a', 'well', { due: NOW + 80 * HOUR }), /^next \w{3} \d+ \w{3}, \d\d:\d\d, in 3.d/],
    [
      'missing: what the judgement says',
      job('a', 'missing', { words: 'It was due 1 h ago', due: NOW - HOUR }),
      /^It was due 1 h ago$/,
    ],
    ['paused', job('a', 'missing', { words: 'x' }, true), /^paused$/],
  ])('at the end of a line, %s', (_, one, words) => expect(loose(lineWords(one, NOW, 'UTC'))).toMatch(words));

  it('says of one that is well when it ran and how long that took', () => {
    expect(loose(jobSentence(job('a', 'well'), NOW))).toBe('is well; ran 2 h ago and took 25 min.');
    expect(jobSentence(job('a', 'missing'), NOW)).toBe('is missing.');
  });

  it.each([
    [run(-HOUR, 90_000), 'took 1 min 30 s'],
    [run(-HOUR, 3_000, 'failed', 2), 'failed after 3 s with exit code 2'],
    [run(-HOUR, 3_000, 'failed', null), 'failed after 3 s'],
    [run(-HOUR, null), 'has not said that it ended, for 1 h'],
  ])('tells how a run went: %#', (one, words) => expect(loose(howRun(one, NOW))).toBe(words));

  it('counts what failed and what did not come', () => {
    const expected = [{ at: NOW, state: 'missing' as const, run: null }];
    expect(loose(stripWords({ expected, runs: [run(-HOUR, 1_000), run(-2 * HOUR, 1_000, 'failed')] }))).toBe(
      '2 runs, 1 failed; 1 did not come',
    );
  });
});
