import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ApiError, SIGNED_OUT, addressOf, read, refusal, send } from './client';

type Asked = { path: string; init: RequestInit };
let asked: Asked[] = [];
let answer: () => Response | Promise<Response>;
let signedOut = 0;

beforeEach(() => {
  asked = [];
  signedOut = 0;
  vi.stubGlobal('fetch', (path: string, init: RequestInit) => {
    asked.push({ path, init });
    return Promise.resolve().then(answer);
  });
  vi.stubGlobal('dispatchEvent', (event: Event) => {
    signedOut += event.type === SIGNED_OUT ? 1 : 0;
    return true;
  });
});
afterEach(() => vi.unstubAllGlobals());

const json = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
const rule = () => read('/api/rules/{id}', { path: { id: 7 } });
const remove = () => send('delete', '/api/rules/{id}', { path: { id: 7 } });

describe('an address', () => {
  it.each([
    ['plain', { path: { id: 7 } }, '/api/incidents/7'],
    ['with what could lead elsewhere', { path: { id: '../people?x=1#' } }, '/api/incidents/..%2Fpeople%3Fx%3D1%23'],
    ['of letters beyond the first hundred', { path: { id: 'Grünau 🚢' } }, '/api/incidents/Gr%C3%BCnau%20%F0%9F%9A%A2'],
  ])('is the same wherever it is told: %s', (_, places, address) =>
    expect(addressOf('/api/incidents/{id}', places as never)).toBe(address),
  );

  it('says only what is asked with', async () => {
    answer = () => json(200, []);
    await read('/api/chart', { query: { formula: 'a + "b&c"', from: 1, to: 2, points: undefined } });
    expect(asked[0]!.path).toBe('/api/chart?formula=a+%2B+%22b%26c%22&from=1&to=2');
  });
});

describe('a question', () => {
  it('brings no body, a change brings one in JSON', async () => {
    answer = () => json(200, {});
    await rule();
    await send('post', '/api/rules', { body: { a: 1 } as never });
    await remove();
    expect(asked.map(({ init }) => [init.method, init.body ?? null, new Headers(init.headers).get('Content-Type')])).toEqual([
      ['GET', null, null],
      ['POST', '{"a":1}', 'application/json'],
      ['DELETE', '{}', 'application/json'],
    ]);
  });

  it('that was done needs no answer', async () => {
    answer = () => new Response(null, { status: 204 });
    await expect(remove()).resolves.toBeUndefined();
  });

  it('that nobody waits for ends as that, and not as an error', async () => {
    answer = () => Promise.reject(new DOMException('left', 'AbortError'));
    await expect(rule()).rejects.toMatchObject({ name: 'AbortError' });
  });

  it.each<[string, () => Response | Promise<Response>, Partial<ApiError>]>([
    [
      'nobody answers',
      () => Promise.reject(new TypeError('Failed to fetch')),
      { status: 0, message: 'Olivine does not answer; check the network. What you see may be old.' },
    ],
    [
      'the answer is cut',
      () => new Response('{"id": 7, "na'),
      { status: 200, message: 'The answer broke off or could not be read' },
    ],
    [
      'the answer is no JSON',
      () => new Response('<html>'),
      { status: 200, message: 'The answer broke off or could not be read' },
    ],
    ['there is no answer in it', () => new Response(''), { status: 200, message: 'The answer broke off or could not be read' }],
    [
      'a field is wrong',
      () => json(422, { title: 'limit must be a number', status: 422, field: 'limit' }),
      { status: 422, message: 'limit must be a number', field: 'limit' },
    ],
    [
      'a formula is wrong at a place',
      () => json(422, { title: 'expected a metric', field: 'formula', offset: 4, length: 3 }),
      { status: 422, field: 'formula', offset: 4, length: 3 },
    ],
    [
      'somebody changed it meanwhile',
      () => json(409, { title: 'changed', now: { limit: 3 } }),
      { status: 409, now: { limit: 3 } },
    ],
    [
      'a proxy refuses in its own words',
      () => new Response('<h1>Bad gateway</h1>', { status: 502 }),
      { status: 502, message: 'The server answered 502' },
    ],
  ])('says why where %s', async (_, given, expected) => {
    answer = given;
    await expect(rule()).rejects.toBeInstanceOf(ApiError);
    await expect(rule()).rejects.toMatchObject(expected);
    expect(signedOut).toBe(0);
  });

  it('that asks who is there does not tell that nobody is', async () => {
    answer = () => json(401, { title: 'Sign in first' });
    await expect(rule()).rejects.toMatchObject({ status: 401 });
    expect(signedOut).toBe(1);
    await expect(read('/api/session')).rejects.toMatchObject({ status: 401 });
    expect(signedOut).toBe(1);
    expect(await refusal(json(401, {}))).toMatchObject({ status: 401, message: 'The server answered 401' });
    expect(signedOut).toBe(2);
  });
});
