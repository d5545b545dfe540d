import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../api/client';
import type { Severity, TriedAlert } from '../api/types';
import { Button, Field, Input, Select, Sheet } from '../ui/controls';
import { clockSeconds, dayClock } from '../ui/format';
import { useZone } from '../ui/session';
import { SEVERITIES } from '../ui/severity';
import { labelsIn } from './labels-in';

/** A made-up alert, at any time: whom it would reach, when, and why. */
export function TrySheet({ hasDraft }: { hasDraft: boolean }) {
  const zone = useZone();
  const [labels, setLabels] = useState('service=boarding-gate broker=broker-north');
  const [severity, setSeverity] = useState<Severity>('critical');
  const [at, setAt] = useState('');
  const [byDraft, setByDraft] = useState(true);
  const tried = useMutation({
    mutationFn: () =>
      send('post', '/api/plan/try', { body: { labels: labelsIn(labels), severity, at, draft: hasDraft && byDraft } }),
  });
  return (
    <Sheet label="Try an alert" className="p-4">
      <form
        className="grid grid-cols-[1fr_8.5rem_11rem_auto] items-start gap-3 max-sm:grid-cols-1"
        onSubmit={(event) => {
          event.preventDefault();
          tried.mutate();
        }}
      >
        <Field label="Try an alert with these labels">
          <Input value={labels} onChange={(event) => setLabels(event.target.value)} className="font-mono text-[12.5px]" />
        </Field>
        <Field label="Severity">
          <Select value={severity} onChange={(event) => setSeverity(event.target.value as Severity)}>
            {SEVERITIES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        </Field>
        <Field label="At">
          <Input value={at} placeholder="now, or sat 22:00" onChange={(event) => setAt(event.target.value)} />
        </Field>
        <Button type="submit" className="self-end" disabled={tried.isPending}>
          Try it
        </Button>
      </form>
      {hasDraft && (
        <label className="mt-2 flex items-center gap-1.5">
          <input type="checkbox" checked={byDraft} onChange={(event) => setByDraft(event.target.checked)} /> by the draft
        </label>
      )}
      {tried.error && (
        <p role="alert" className="mt-3 text-critical">
          {tried.error.message}
        </p>
      )}
      {tried.data && <Course tried={tried.data} zone={zone} />}
    </Sheet>
  );
}

/** Each thing that would happen, one after the other; where a rung reaches nobody it is a gap. */
function Course({ tried, zone }: { tried: TriedAlert; zone: string }) {
  return (
    <div className="mt-4" role="status">
      <p>
        Raised {dayClock(tried.at, zone)}, answered by <span className="font-semibold">{tried.path}</span>, in an incident of{' '}
        <span className="font-semibold">{tried.group}</span>. If nobody acted:
      </p>
      <ol className="mt-2 space-y-1.5 border-l border-line pl-4">
        {tried.steps.map((step, i) => (
          <li key={i} className="relative flex gap-3">
            <span
              aria-hidden
              className={`absolute top-1.5 -left-[calc(1rem+4px)] size-2 rounded-full ${step.isGap ? 'bg-critical' : 'bg-accent'}`}
            />
            <time className="shrink-0 text-muted" dateTime={new Date(step.at).toISOString()}>
              {clockSeconds(step.at, zone)}
            </time>
            <span className={step.isGap ? 'text-critical' : ''}>{step.words}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
