import { ApiError, TOOK_TOO_LONG, refusal, send } from './client';
import { linesOf } from './lines';
import type { LongReplay, Replay, RuleDefinition } from './types';

type Replayed = { definition: RuleDefinition; hours: number; against?: number };

let share: number | null = null;
const listeners = new Set<() => void>();

/** How far the replay that is under way is; null where none is. */
export const longReplayShare = {
  now: () => share,
  listen: (listener: () => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
};

function reached(next: number | null) {
  share = next;
  listeners.forEach((listener) => listener());
}

/** Longer replays tell how far they are, and so do those that turn out to take long. */
const SHORT_HOURS = 336;

/** What took too long once: asked again, with another limit, it is not tried in vain. */
const slow = new Set<string>();

/** What a rule would have raised; nobody waits for it any more: the server stops, too. */
export async function replay(asked: Replayed, signal: AbortSignal): Promise<Replay> {
  const what = `${asked.hours} ${asked.definition.stepSeconds} ${asked.definition.formula}`;
  if (asked.hours > SHORT_HOURS || slow.has(what)) return replayLong(asked, signal);
  try {
    return await send('post', '/api/rules/replay', { body: asked, signal });
  } catch (error) {
    if (!(error instanceof ApiError && error.status === TOOK_TOO_LONG)) throw error;
    slow.add(what);
    return replayLong(asked, signal);
  }
}

/** A replay over a long span: line by line comes how far it is, and at last what it found. */
async function replayLong(asked: Replayed, signal: AbortSignal): Promise<Replay> {
  reached(0);
  try {
    const response = await fetch('/api/rules/replay/long', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(asked),
      signal,
    });
    if (!response.ok || !response.body) throw await refusal(response);
    for await (const line of linesOf(response.body)) {
      const said = JSON.parse(line) as LongReplay;
      if (said.share !== undefined) reached(said.share);
      if (said.replay) return said.replay;
      if (said.problem) throw new ApiError(said.problem.status, said.problem.title, said.problem.field, said.problem.offset);
    }
    throw new ApiError(response.status, 'The replay broke off');
  } finally {
    reached(null);
  }
}
