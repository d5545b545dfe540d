import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { longReplayShare, replay } from './long-replay';
import type { Replay, RuleDefinition } from './types';

const found = { spells: [], series: 7 } as unknown as Replay;
const json = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
const lines = (...said: unknown[]) => new Response(said.map((one) => `${JSON.stringify(one)}\n`).join(''));
const tooLong = () => json(504, { title: 'This took longer than the 15 s that it may', status: 504, field: 'formula' });

let asked: string[] = [];
let answers: (() => Response | Promise<Response>)[] = [];
let formulas = 0;

beforeEach(() => {
  asked = [];
  vi.stubGlobal('fetch', (path: string) => {
    asked.push(path.replace('/api/rules/', ''));
    const next = answers.shift();
    return next ? Promise.resolve(next()) : Promise.reject(new TypeError('nobody answers'));
  });
});
afterEach(() => vi.unstubAllGlobals());

/** Each its own formula: what took too long once is known to. */
const of = (hours: number, formula = `f${++formulas}`) => ({
  definition: { formula, stepSeconds: 15 } as RuleDefinition,
  hours,
});
const ask = (what: ReturnType<typeof of>) => replay(what, new AbortController().signal);

describe('a replay', () => {
  it('is answered at once where it is short', async () => {
    answers = [() => json(200, found)];
    expect(await ask(of(168))).toEqual(found);
    expect(asked).toEqual(['replay']);
  });

  it('goes on in the background where it took too long, and is not tried in vain again', async () => {
    const slow = of(168);
    answers = [tooLong, () => lines({ share: 0.5 }, { replay: found }), () => lines({ replay: found })];
    expect(await ask(slow)).toEqual(found);
    expect(await ask(slow)).toEqual(found);
    expect(asked).toEqual(['replay', 'replay/long', 'replay/long']);
    // Of a shorter span, or another formula, nothing is known yet.
    answers = [() => json(200, found), () => json(200, found)];
    await ask({ ...slow, hours: 24 });
    await ask(of(168));
    expect(asked.slice(3)).toEqual(['replay', 'replay']);
  });

  it('over more than a fortnight goes there first', async () => {
    answers = [() => lines({ replay: found })];
    await ask(of(720));
    expect(asked).toEqual(['replay/long']);
  });

  it('tells how far it is, and no more when it is over', async () => {
    const shares: (number | null)[] = [];
    const leave = longReplayShare.listen(() => shares.push(longReplayShare.now()));
    answers = [() => lines({ share: 0.25 }, { share: 0.75 }, { replay: found })];
    await ask(of(720));
    leave();
    expect(shares).toEqual([0, 0.25, 0.75, null]);
  });

  it.each([
    [
      'too much is under way',
      () => json(429, { title: 'Another long replay is under way', status: 429 }),
      429,
      'Another long replay is under way',
    ],
    ['it was wrongly asked', () => json(422, { title: 'x is no metric', status: 422, field: 'formula' }), 422, 'x is no metric'],
    [
      'it fails on the way',
      () => lines({ share: 0.5 }, { problem: { status: 422, title: 'Both sides have several series' } }),
      422,
      'Both sides have several series',
    ],
    ['the line is cut', () => lines({ share: 0.5 }), 200, 'The replay broke off'],
  ])('says why where %s', async (_, answer, status, message) => {
    answers = [answer];
    await expect(ask(of(720))).rejects.toMatchObject({ status, message });
    expect(longReplayShare.now()).toBeNull();
  });

  it('that fails otherwise is not asked for again at greater length', async () => {
    answers = [() => json(422, { title: 'x is no metric', status: 422, field: 'formula' })];
    await expect(ask(of(24))).rejects.toMatchObject({ status: 422, field: 'formula' });
    answers = [];
    await expect(ask(of(24))).rejects.toThrow();
    expect(asked).toEqual(['replay', 'replay']);
  });
});
