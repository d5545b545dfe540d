import type { UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { byServer } from '../api/server-clock';
import { clock, span } from './format';
import { useZone } from './session';
import { useNow } from './use-now';
import { Button } from './controls';

type Question<T> = Pick<UseQueryResult<T>, 'data' | 'error' | 'dataUpdatedAt' | 'isFetching' | 'refetch'>;
type Props<T> = {
  of: Question<T>;
  /** What was asked for, as a sentence says it: `the targets`. */
  what: string;
  children: (data: T) => ReactNode;
  /** Said in place of the rest where there is nothing; what to do first. */
  empty?: ReactNode;
  isEmpty?: (data: T) => boolean;
  className?: string;
};

/**
 * The one frame of everything that is asked for: looking, failed (why, and a way to try again), nothing there, or the
 * answer. An answer whose renewal failed stays, and says how old it is; a failed question never looks like an empty one.
 */
export function Answered<T>({ of: question, what, children, empty, isEmpty, className = 'py-6' }: Props<T>) {
  const { data, error } = question;
  if (data === undefined) {
    return error ? (
      <div className={className}>
        <Failed question={question} words={`Olivine could not show ${what}.`} />
      </div>
    ) : (
      <p role="status" className={`${className} text-muted`}>
        Looking for {what} …
      </p>
    );
  }
  return (
    <>
      {error && <Old question={question} what={what} />}
      {empty !== undefined && isEmpty?.(data) ? empty : children(data)}
    </>
  );
}

/** For what stands without a frame of its own: only when a renewal failed. */
export function Old<T>({ question, what }: { question: Question<T>; what: string }) {
  const zone = useZone();
  const now = useNow();
  if (!question.error || question.data === undefined) return null;
  // When an answer came is told by the browser's clock, which may be hours off.
  const at = byServer(question.dataUpdatedAt);
  return <Failed question={question} words={`You see ${what} of ${clock(at, zone)}, ${span(Math.max(0, now - at))} old.`} />;
}

function Failed<T>({ question, words }: { question: Question<T>; words: string }) {
  return (
    <p
      role="alert"
      className="my-2 flex flex-wrap items-center gap-x-3 gap-y-1 rounded-lg border border-critical/40 bg-sheet px-3 py-2"
    >
      <span className="min-w-0 break-words">
        {words} <span className="text-critical">{question.error?.message}</span>
      </span>
      <Button onClick={() => void question.refetch()} disabled={question.isFetching}>
        Try again
      </Button>
    </p>
  );
}
