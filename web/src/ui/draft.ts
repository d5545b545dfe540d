import { useState } from 'react';

/** Typed and not sent yet, by what it belongs to: choosing another thing and coming back finds it again. */
const drafts = new Map<string, string>();

export function useDraft(of: string): [string, (text: string) => void] {
  const [, redraw] = useState(0);
  const set = (text: string) => {
    if (text === '') drafts.delete(of);
    else drafts.set(of, text);
    redraw((n) => n + 1);
  };
  return [drafts.get(of) ?? '', set];
}
