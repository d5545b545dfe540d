import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState } from 'react';
import { send } from '../api/client';
import { delivery, watch } from '../api/queries';
import type { ShownAction, ShownRun } from '../api/types';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { dayClock, span } from '../ui/format';
import { useZone } from '../ui/session';

export type About = { incident: number } | { target: number };

/** What is prepared to be done about a thing, and what was done. */
export default function ActionsAbout({ about }: { about: About }) {
  const found = useQuery(delivery.actionsAbout(about));
  if (!found.data || (found.data.actions.length === 0 && found.data.runs.length === 0)) return null;
  return (
    <section className="mt-4" aria-label="Actions">
      <h2>Actions</h2>
      <div className="mt-1.5 flex flex-wrap gap-2">
        {found.data.actions.map((one) => (
          <RunButton key={one.id} action={one} about={about} />
        ))}
      </div>
      {found.data.runs.length > 0 && (
        <ul className="mt-2 space-y-1.5 text-[13px]">
          {found.data.runs.slice(0, 5).map((one) => (
            <Run key={one.id} of={one} />
          ))}
        </ul>
      )}
    </section>
  );
}

function RunButton({ action, about }: { action: ShownAction; about: About }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const run = useMutation({
    mutationFn: () =>
      send('post', '/api/actions/{id}/run', { path: { id: action.id }, body: { ...about, version: action.version } }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: delivery.actionsAbout(about).queryKey });
      void queries.invalidateQueries({ queryKey: watch.key });
    },
    onSuccess: () => setOpen(false),
  });
  return (
    <>
      <Button disabled={!action.may} title={action.may ? undefined : `For ${action.role}s`} onClick={() => setOpen(true)}>
        {action.name} …
      </Button>
      <DialogBox open={open} onOpenChange={setOpen} title={action.name}>
        <p>{action.words}</p>
        <p className="mt-2 text-[13px] break-words text-muted">
          {action.command !== '' && `The agent is asked for ${action.command}, `}at {action.url}. What comes of it stands on the
          trail.
        </p>
        {run.error && (
          <p role="alert" className="mt-2 text-critical">
            {run.error.message}
          </p>
        )}
        <div className="flex justify-end gap-2 pt-3">
          <Button onClick={() => setOpen(false)}>Back</Button>
          <Button look="accent" disabled={run.isPending} onClick={() => run.mutate()}>
            {run.isPending ? 'Under way …' : 'Do it'}
          </Button>
        </div>
      </DialogBox>
    </>
  );
}

function Run({ of }: { of: ShownRun }) {
  const zone = useZone();
  const words = of.done === true ? 'done' : of.done === false ? 'failed' : 'nobody knows whether it was done';
  return (
    <li>
      <span className={clsx('font-semibold', of.done !== true && 'text-critical')}>
        {of.name}: {words}
      </span>{' '}
      <span className="text-muted">
        {of.by}, {dayClock(of.begunAt, zone)}
        {of.endedAt !== null && `, ${span(of.endedAt - of.begunAt)}`}
      </span>
      {of.output !== '' && (
        <pre className="mt-0.5 max-h-32 overflow-auto rounded bg-future px-2 py-1 font-mono text-[12px] whitespace-pre-wrap">
          {of.output}
        </pre>
      )}
    </li>
  );
}
