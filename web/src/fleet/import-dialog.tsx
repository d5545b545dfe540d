import clsx from 'clsx';
import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { refusal } from '../api/client';
import { linesOf } from '../api/lines';
import type { ImportReport } from '../api/types';
import { Button, Field, Input, Select } from '../ui/controls';
import { many, whole } from '../ui/format';
import { DialogBox } from '../ui/dialog-box';

/** Readings out of a file; the server tells how far it is, line by line. */
export function ImportDialog() {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const [form, setForm] = useState('openmetrics');
  const [target, setTarget] = useState('imported');
  const [report, setReport] = useState<ImportReport | null>(null);
  const [fault, setFault] = useState('');
  const running = useRef<AbortController | null>(null);
  const [busy, setBusy] = useState(false);

  const start = async () => {
    if (!file) return;
    setFault('');
    setReport(null);
    setBusy(true);
    running.current = new AbortController();
    try {
      const response = await fetch(`/api/import?as=${form}&target=${encodeURIComponent(target)}`, {
        method: 'POST',
        body: file,
        headers: { 'Content-Type': 'application/octet-stream' },
        signal: running.current.signal,
      });
      if (!response.ok || !response.body) throw await refusal(response);
      for await (const line of linesOf(response.body)) setReport(JSON.parse(line) as ImportReport);
      void queries.invalidateQueries();
    } catch (error) {
      setFault(
        error instanceof DOMException && error.name === 'AbortError'
          ? 'Stopped. What was taken by then is kept; the same file can be taken again.'
          : (error as Error).message,
      );
    } finally {
      setBusy(false);
    }
  };
  return (
    <DialogBox open={open} onOpenChange={setOpen} title="Import readings" trigger={<Button>Import</Button>}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        <Field
          label="File"
          help={
            'OpenMetrics text with timestamps, or CSV with the columns time, metric, value and one for each label. ' +
            'What is there already stays; a file can be taken twice.'
          }
        >
          <Input
            name="file"
            type="file"
            className={clsx(
              'border-0 px-0 file:mr-3 file:rounded-lg file:border file:border-solid file:border-line',
              'file:bg-sheet file:px-3.5 file:py-1.5 file:font-semibold',
            )}
            onChange={(event) => {
              const chosen = event.target.files?.[0] ?? null;
              setFile(chosen);
              setForm(chosen?.name.toLowerCase().endsWith('.csv') ? 'csv' : 'openmetrics');
              setReport(null);
            }}
          />
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Written as">
            <Select name="form" value={form} onChange={(event) => setForm(event.target.value)}>
              <option value="openmetrics">OpenMetrics text</option>
              <option value="csv">CSV</option>
            </Select>
          </Field>
          <Field label="New series belong to">
            <Input name="target" value={target} onChange={(event) => setTarget(event.target.value)} />
          </Field>
        </div>
        {report && (
          <div role="status" className="rounded-lg bg-accent-soft px-3 py-2">
            {report.done ? 'Done: ' : 'So far: '}
            {many(report.readings, 'reading')} taken, {report.newSeries} new series
            {report.already > 0 && `, ${whole(report.already)} were there already`}, {report.refused} refused.
            {report.reasons.map((reason) => (
              <p key={reason} className="text-[13px] break-words text-critical">
                {reason}
              </p>
            ))}
          </div>
        )}
        {fault && (
          <p role="alert" className="text-critical">
            {fault}
          </p>
        )}
        <div className="flex justify-end gap-2">
          {busy ? (
            <Button onClick={() => running.current?.abort()}>Stop</Button>
          ) : (
            <Button onClick={() => setOpen(false)}>Close</Button>
          )}
          <Button type="submit" look="accent" disabled={!file || busy || !target.trim()}>
            {busy ? 'Taking …' : 'Take it'}
          </Button>
        </div>
      </form>
    </DialogBox>
  );
}
