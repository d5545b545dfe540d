import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { JobPage as Page, ReportedRun } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Button, Sheet } from '../../ui/controls';
import { DialogBox } from '../../ui/dialog-box';
import { dayClock, span } from '../../ui/format';
import { PageHead } from '../../ui/page-head';
import { sayFailure } from '../../ui/say-failure';
import { useMay, useZone } from '../../ui/session';
import { useNow } from '../../ui/use-now';
import { useWidth } from '../../ui/use-width';
import { useLevers } from '../use-levers';
import { ServiceLink } from '../service/service-link';
import { Used } from '../used';
import { DaysAxis } from './days-axis';
import { JobForm } from './job-form';
import { JobMark } from './job-mark';
import { jobSentence } from './job-words';
import { JobStrip, howRun, stripWords } from './strip';

const SHOWN = 40;

/** One job: how it stands, its runs over two weeks, how it reports, and who looks at it. */
export function JobPage() {
  const { id } = useParams({ from: '/signed-in/fleet/jobs/$id' });
  const page = useQuery({ ...fleet.job(Number(id)), refetchInterval: 5_000 });
  return (
    <Answered of={page} what="this job" className="py-10">
      {(found) => <Opened key={id} page={found} />}
    </Answered>
  );
}

function Opened({ page }: { page: Page }) {
  const { settings, state } = page.job;
  const mayChange = useMay()('keep targets');
  const zone = useZone();
  const now = useNow();
  const levers = useLevers(settings, '/fleet/jobs');
  const [column, width] = useWidth<HTMLDivElement>(760);
  return (
    <>
      <p className="mt-4 text-muted">
        <Link to="/fleet/jobs" search={{ days: undefined }} className="hover:text-ink">
          Jobs
        </Link>{' '}
        / <ServiceLink labels={settings.labels} />
      </p>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <PageHead title={settings.name} means={`${settings.name} ${state.verdict}`}>
          <JobMark state={state} paused={settings.paused} /> {settings.name}{' '}
          <span className="font-normal text-muted">{jobSentence(page.job, now)}</span>
        </PageHead>
        {mayChange && (
          <div className="flex flex-wrap gap-2">
            <Button onClick={() => levers.pause(!settings.paused)}>{settings.paused ? 'Resume' : 'Pause'}</Button>
            <ChangeJob page={page} />
            <Button onClick={levers.remove}>Remove</Button>
          </div>
        )}
      </div>
      {state.words !== '' && !settings.paused && (
        <p role={state.needsSomebody ? 'alert' : 'status'} className="mt-3 rounded-lg border border-line bg-sheet px-3 py-2">
          {state.words}.
        </p>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_380px] items-start gap-4 max-lg:grid-cols-1">
        <div className="min-w-0 space-y-4">
          <Sheet className="p-4" label="The last two weeks">
            <h2 className="mb-2">
              The last two weeks <span className="font-normal text-muted">{stripWords(page.job)}</span>
            </h2>
            <div ref={column} className="min-w-0 overflow-hidden">
              <JobStrip {...page.job} from={page.from} to={page.to} width={width} />
              <DaysAxis from={page.from} to={page.to} width={width} />
            </div>
          </Sheet>
          <Runs page={page} mayRead={mayChange} />
        </div>
        <div className="space-y-4">
          <Sheet className="space-y-1.5 p-4" label="When it is to run">
            <h2>When it is to run</h2>
            <p>
              {settings.schedule}; {state.due > now ? 'next' : 'due'} {dayClock(state.due, zone)}
            </p>
            <p className="text-[13px] text-muted">
              It may be {span(settings.graceSeconds * 1000)} late
              {settings.longestSeconds !== null && `, and take ${span(settings.longestSeconds * 1000)}`}
              {settings.mostAtOnce > 1 && `, and run ${settings.mostAtOnce} times at once`}.
            </p>
          </Sheet>
          {page.address !== null && <Reporting id={settings.id} address={page.address} name={settings.name} />}
          <Used page={page} nobody="No rule looks at it, so nobody hears where it does not run." />
        </div>
      </div>
    </>
  );
}

function ChangeJob({ page }: { page: Page }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox
      open={open}
      onOpenChange={setOpen}
      title={`Change ${page.job.settings.name}`}
      trigger={<Button>Change</Button>}
      wide={640}
    >
      <JobForm job={page.job.settings} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

function Runs({ page: { job, to }, mayRead }: { page: Page; mayRead: boolean }) {
  const zone = useZone();
  const [open, setOpen] = useState<number | null>(null);
  const rows = [
    ...job.runs.map((run) => ({ at: run.beganAt, run })),
    ...job.expected.filter((one) => one.state === 'missing' || one.state === 'unseen').map(({ at, state }) => ({ at, state })),
  ]
    .sort((a, b) => b.at - a.at)
    .slice(0, SHOWN);
  return (
    <Sheet className="p-4" label="Runs">
      <h2 className="mb-2">
        Runs <span className="font-normal text-muted">the newest first</span>
      </h2>
      {rows.length === 0 && <p className="text-muted">It has not reported yet.</p>}
      <ul className="divide-y divide-line">
        {rows.map((row) =>
          'run' in row ? (
            <li key={row.run.id} className="py-1.5">
              <button
                type="button"
                aria-expanded={mayRead ? open === row.run.id : undefined}
                disabled={!mayRead}
                className="grid w-full grid-cols-[9rem_1fr] gap-3 text-left enabled:hover:bg-accent-soft/50"
                onClick={() => setOpen(open === row.run.id ? null : row.run.id)}
              >
                <span className="text-muted tabular-nums">{dayClock(row.at, zone)}</span>
                <span className={row.run.outcome === 'failed' ? 'font-medium' : ''}>{howRun(row.run, to)}</span>
              </button>
              {open === row.run.id && <Output run={row.run} />}
            </li>
          ) : (
            <li key={`due ${row.at}`} className="grid grid-cols-[9rem_1fr] gap-3 py-1.5">
              <span className="text-muted tabular-nums">{dayClock(row.at, zone)}</span>
              <span className="font-medium">
                {row.state === 'missing' ? 'did not come' : 'Olivine stood still; nobody knows'}
              </span>
            </li>
          ),
        )}
      </ul>
      {!mayRead && rows.length > 0 && <p className="mt-2 text-[13px] text-muted">What a run printed is shown to engineers.</p>}
    </Sheet>
  );
}

function Output({ run }: { run: ReportedRun }) {
  const output = useQuery(fleet.output(run.id));
  return (
    <Answered of={output} what="what it printed">
      {(found) =>
        found.output === '' ? (
          <p className="mt-1 text-[13px] text-muted">It told nothing of what it printed.</p>
        ) : (
          <pre
            aria-label="What it printed"
            tabIndex={0}
            className="mt-1 max-h-72 overflow-auto rounded-lg border border-line bg-paper p-2 font-mono text-[12px] whitespace-pre-wrap"
          >
            {found.output}
          </pre>
        )
      }
    </Answered>
  );
}

function Reporting({ id, address, name }: { id: number; address: string; name: string }) {
  const queries = useQueryClient();
  const renew = useMutation({
    mutationFn: () => send('post', '/api/jobs/{id}/address', { path: { id } }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: fleet.key });
      toast('It has another address now; what reports at the one before is refused.');
    },
    onError: sayFailure,
  });
  const copy = (text: string) => void navigator.clipboard.writeText(text).then(() => toast('Copied.'), sayFailure);
  const command = `bin/olivine run --to='${address}' -- ./backup.sh`;
  return (
    <Sheet className="space-y-2 p-4" label="How it reports">
      <h2>How it reports</h2>
      {address === '' ? (
        <p>Its address cannot be opened: the secret of this instance has changed. Give it another one.</p>
      ) : (
        <>
          <p className="text-[13px] text-muted">
            Put before the command of {name}; output and exit code pass through, and a run that cannot be told now is told later.
          </p>
          <Copied text={command} onCopy={copy} />
          <p className="text-[13px] text-muted">Or fetch an address as it begins, and one of the others as it ends.</p>
          {['began', 'ended', 'failed'].map((what) => (
            <Copied key={what} text={`${address}/${what}`} onCopy={copy} />
          ))}
        </>
      )}
      <p className="text-[13px] text-muted">
        Whoever knows it may report for this job.{' '}
        <button type="button" className="underline hover:text-ink" onClick={() => renew.mutate()} disabled={renew.isPending}>
          Another address
        </button>
      </p>
    </Sheet>
  );
}

function Copied({ text, onCopy }: { text: string; onCopy: (text: string) => void }) {
  return (
    <button
      type="button"
      title="Copy"
      className="block w-full rounded-lg border border-line bg-paper px-2 py-1 text-left font-mono text-[12px] break-all hover:border-accent"
      onClick={() => onCopy(text)}
    >
      {text}
    </button>
  );
}
