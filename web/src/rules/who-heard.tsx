import { useMutation } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { send } from '../api/client';
import type { Labels } from '../api/types';
import { DialogBox } from '../ui/dialog-box';

/** Of an alert of the past: who heard of it, or why nobody did. */
export function WhoHeard({ rule, labels, at }: { rule: number; labels: Labels; at: number }) {
  const [open, setOpen] = useState(false);
  const ask = useMutation({
    mutationFn: () => send('post', '/api/rules/{id}/heard', { path: { id: rule }, body: { labels, at } }),
  });
  return (
    <DialogBox
      open={open}
      onOpenChange={setOpen}
      title={ask.data ? (ask.data.isHeard ? 'Who heard of it' : 'Why nobody heard') : 'Who heard of it'}
      wide={720}
      trigger={
        <button type="button" className="text-muted underline hover:text-ink" onClick={() => ask.mutate()}>
          who heard?
        </button>
      }
    >
      {ask.error && (
        <p role="alert" className="text-critical">
          {ask.error.message}
        </p>
      )}
      {ask.data && (
        <div role="status" className="space-y-2">
          {ask.data.incident !== null && (
            <p>
              It was part of{' '}
              <Link to="/incidents/$id" params={{ id: String(ask.data.incident) }} className="font-semibold hover:underline">
                incident {ask.data.incident}
              </Link>
              : {ask.data.title}
            </p>
          )}
          <ul className="max-h-96 space-y-1 overflow-y-auto">
            {ask.data.words.map((words, i) => (
              <li key={i} className="break-words">
                {words}
              </li>
            ))}
          </ul>
        </div>
      )}
    </DialogBox>
  );
}
