import { useEffect, useRef, useState } from 'react';
import { ApiError, send } from '../api/client';
import type { Draft } from '../api/types';
import { useSettled } from '../ui/use-settled';
import { type RuleDraft, draftIn, fieldsOf } from './rule-fields';

const SETTLED_MS = 1_200;
const AGAIN_MS = 10_000;

export type KeptDraft = {
  /** As the server has it. */
  kept: Draft | null;
  /** Whether what stands in the form is not on the server yet. */
  isBehind: boolean;
  /** Somebody went on with the same draft meanwhile: theirs. */
  theirs: Draft | null;
  /** Why it could not be kept. */
  fault: string | null;
  /** Goes on from theirs: what stands here takes its place. */
  goOn: () => void;
  throwAway: () => Promise<void>;
  /** It was put into service, and the server has let it go. */
  isDone: () => void;
};

/** Keeps what stands in the form on the server as it is written, so that another day and another machine find it again. */
export function useKeptDraft(rule: number | null, draft: RuleDraft, changed: boolean, first: Draft | null): KeptDraft {
  const [kept, setShown] = useState(first);
  // What the server has by now: who asked before a render still sees what it had then.
  const there = useRef(first);
  const setKept = (next: Draft | null) => {
    there.current = next;
    setShown(next);
  };
  const [theirs, setTheirs] = useState<Draft | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const words = saidBy(draft);
  const [keptWords, setKeptWords] = useState(() => (first ? saidBy(draftIn(first)) : null));
  const settled = useSettled(words, SETTLED_MS);
  const [again, setAgain] = useState(0);
  const busy = useRef(false);
  // What is put into service while it is on its way to be kept is a draft no more when it arrives.
  const isOver = useRef(false);
  const isBehind = changed && words !== keptWords;

  useEffect(() => {
    if (!isBehind || settled !== words || theirs || busy.current) return;
    busy.current = true;
    isOver.current = false;
    const { definition, enabled } = fieldsOf(draft);
    const body = { definition: definition as unknown as Record<string, never>, enabled, rule };
    const kept_ = kept
      ? send('put', '/api/rule-drafts/{id}', { path: { id: kept.id }, body: { ...body, version: kept.version } })
      : send('post', '/api/rule-drafts', { body });
    kept_
      .then((next) => {
        if (isOver.current) return drop(next);
        setKept(next);
        setKeptWords(words);
        setFault(null);
        return undefined;
      })
      .catch((error: unknown) => {
        const status = error instanceof ApiError ? error.status : 0;
        if (status === 409) setTheirs((error as ApiError).now as Draft);
        // Somebody threw it away meanwhile: what stands here begins another one.
        else if (status === 404 && kept) setKept(null);
        else {
          setFault(error instanceof Error ? error.message : 'the draft could not be kept');
          setTimeout(() => setAgain((times) => times + 1), AGAIN_MS);
        }
      })
      .finally(() => {
        busy.current = false;
      });
    // What a draft says is in its words.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isBehind, settled, words, theirs, kept, again]);

  const isDone = () => {
    isOver.current = busy.current;
    // One that arrived since it was put into service is not what the server has let go.
    const late = there.current;
    if (late && late.id !== kept?.id) void drop(late).catch(() => undefined);
    setKept(null);
    setKeptWords(null);
    setTheirs(null);
  };
  return {
    kept,
    isBehind,
    theirs,
    fault,
    isDone,
    goOn: () => {
      setKept(theirs);
      setKeptWords(null);
      setTheirs(null);
    },
    throwAway: async () => {
      isOver.current = busy.current;
      const left = there.current;
      if (left) await drop(left);
      there.current = null;
      isDone();
    },
  };
}

const drop = (draft: Draft) => send('delete', '/api/rule-drafts/{id}', { path: { id: draft.id } });

/** The same text for what says the same, in whatever order. */
const saidBy = (draft: RuleDraft): string =>
  JSON.stringify(Object.fromEntries(Object.entries(draft).sort(([a], [b]) => (a < b ? -1 : 1))));
