import { learnFromHeader } from './server-clock';
import type { paths, Problem } from './types';

/** Told when an answer says that nobody is signed in any more. */
export const SIGNED_OUT = 'olivine:signed-out';

/** The status of an answer that was begun and took longer than it may. */
export const TOOK_TOO_LONG = 504;

/** An error the server answered with: what is wrong, which field, and where in a formula. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly field?: string,
    readonly offset?: number,
    readonly length?: number,
    /** With 409: what is there now, as it would be read. */
    readonly now?: unknown,
  ) {
    super(title);
  }
}

type Method = 'get' | 'post' | 'put' | 'delete';
type PathOf<M extends Method> = {
  [P in keyof paths]: paths[P] extends Record<M, { responses: object }> ? P : never;
}[keyof paths];
type Operation<M extends Method, P extends PathOf<M>> = paths[P][M];
type Content<R> = R extends { content: { 'application/json': infer T } } ? T : undefined;
type Answer<O> = O extends { responses: { 200: infer R } }
  ? Content<R>
  : O extends { responses: { 201: infer R } }
    ? Content<R>
    : undefined;
type Query<O> = O extends { parameters: { query: infer Q } }
  ? { query: Q }
  : O extends { parameters: { query?: infer Q } }
    ? { query?: Q }
    : { query?: never };
type Places<O> = O extends { parameters: { path: infer T } } ? { path: { [K in keyof T]: T[K] | string } } : { path?: never };
type Body<O> = O extends { requestBody: { content: { 'application/json': infer T } } } ? { body: T } : { body?: never };
type Asked = { path?: Record<string, number | string>; query?: object; body?: unknown; signal?: AbortSignal };
/** Nothing needs to be said where nothing must be. */
type Said<T> = object extends T ? [asked?: T] : [asked: T];

/** Asks for what a path of the contract promises. */
export const read = <P extends PathOf<'get'>>(
  path: P,
  ...[asked]: Said<Places<Operation<'get', P>> & Query<Operation<'get', P>> & { signal?: AbortSignal }>
): Promise<Answer<Operation<'get', P>>> => ask('get', path, asked);

/** Changes something; what the contract asks for goes with it. */
export const send = <M extends 'post' | 'put' | 'delete', P extends PathOf<M>>(
  method: M,
  path: P,
  ...[asked]: Said<Places<Operation<M, P>> & Body<Operation<M, P>> & { signal?: AbortSignal }>
): Promise<Answer<Operation<M, P>>> => ask(method, path, asked);

/** The address of what a path of the contract promises, for a link. */
export const addressOf = <P extends PathOf<'get'>>(
  path: P,
  asked: Places<Operation<'get', P>> & Query<Operation<'get', P>>,
): string => addressWith(path, asked);

function addressWith(path: string, { path: places = {}, query = {} }: Asked): string {
  const said = new URLSearchParams(
    Object.entries(query).flatMap(([name, value]) => (value === undefined ? [] : [[name, String(value)]])),
  );
  return (
    path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(places[name] ?? '')) + (said.size > 0 ? `?${said}` : '')
  );
}

async function ask<T>(method: Method, path: string, asked: Asked = {}): Promise<T> {
  let response: Response;
  const changes = method !== 'get';
  try {
    response = await fetch(addressWith(path, asked), {
      method: method.toUpperCase(),
      headers: changes ? { 'Content-Type': 'application/json' } : {},
      body: changes ? JSON.stringify(asked.body ?? {}) : undefined,
      signal: asked.signal,
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiError(0, 'Olivine does not answer; check the network. What you see may be old.');
  }
  learnFromHeader(response.headers.get('Date'));
  if (response.status === 204) return undefined as T;
  const data: unknown = await response.json().catch((error: unknown) => {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    return undefined;
  });
  if (!response.ok) throw refused(response.status, data, path !== '/api/session');
  // A broken answer is no empty one.
  if (data === undefined) throw new ApiError(response.status, 'The answer broke off or could not be read');
  return data as T;
}

/** Why an answer that comes bit by bit did not come. */
export const refusal = async (response: Response): Promise<ApiError> =>
  refused(response.status, await response.json().catch(() => undefined), true);

function refused(status: number, data: unknown, tells: boolean): ApiError {
  const problem = (data ?? {}) as Partial<Problem>;
  if (status === 401 && tells) dispatchEvent(new Event(SIGNED_OUT));
  return new ApiError(
    status,
    problem.title ?? `The server answered ${status}`,
    problem.field,
    problem.offset,
    problem.length,
    problem.now,
  );
}
