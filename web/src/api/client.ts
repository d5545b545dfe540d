/** An error the server answered with: what is wrong, which field, and where in a formula. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    title: string,
    readonly field?: string,
    readonly offset?: number,
    readonly length?: number,
  ) {
    super(title);
  }
}

export async function api<T>(path: string, options: { method?: string; body?: unknown; signal?: AbortSignal } = {}): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method: options.method ?? 'GET',
      headers: options.method ? { 'Content-Type': 'application/json' } : {},
      body: options.method ? JSON.stringify(options.body ?? {}) : undefined,
      signal: options.signal,
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiError(0, 'Olivine does not answer; check the network. What you see may be old.');
  }
  if (response.status === 204) return undefined as T;
  const data: unknown = await response.json().catch(() => ({}));
  if (!response.ok) {
    const problem = data as { title?: string; field?: string; offset?: number; length?: number };
    if (response.status === 401 && path !== '/api/session') window.dispatchEvent(new Event('olivine:signed-out'));
    throw new ApiError(response.status, problem.title ?? `The server answered ${response.status}`, problem.field, problem.offset, problem.length);
  }
  return data as T;
}
