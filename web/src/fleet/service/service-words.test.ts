import { describe, expect, it } from 'vitest';
import type { Check, Job, Target } from '../../api/types';
import { serviceSentence } from './service-words';

const check = (name: string, ...verdicts: string[]) =>
  ({ name, paused: false, states: verdicts.map((verdict) => ({ verdict })) }) as unknown as Check;
const target = (ok: boolean) => ({ paused: false, status: { ok, overdue: false, verdict: '' } }) as unknown as Target;
const job = (needsSomebody: boolean) => ({ settings: { paused: false }, state: { needsSomebody } }) as unknown as Job;
const plainly = (text: string) => text.replaceAll('\u00a0', ' ');

describe('a service', () => {
  it.each<[string, Check[], Target[], Job[], string]>([
    ['nothing of it', [], [], [], 'Nobody asks it from outside. Nothing of it tells how it is inside.'],
    [
      'well',
      [check('shop', 'runs', 'runs')],
      [target(true)],
      [job(false)],
      'Seen from outside it runs. Inside: every target answers.',
    ],
    [
      'down for some',
      [check('shop', 'runs', 'down'), check('login', 'runs')],
      [target(true), target(false)],
      [job(true)],
      'Seen from outside: down, says “shop”. Inside: 1 of 2 targets does not answer. 1 job needs somebody.',
    ],
    [
      'well inside, and not outside',
      [check('shop', 'partly'), check('login', 'partly')],
      [target(true)],
      [],
      'Seen from outside: runs, but something it did failed, says “shop” and “login”. Inside: every target answers.',
    ],
    ['not asked yet', [check('shop')], [target(true)], [], 'Nobody asks it from outside. Inside: every target answers.'],
  ])('%s', (_, checks, targets, jobs, words) => expect(plainly(serviceSentence(checks, targets, jobs))).toBe(words));
});
