import clsx from 'clsx';
import { useQuery } from '@tanstack/react-query';
import { Link, useSearch } from '@tanstack/react-router';
import { fleet } from '../../api/queries';
import type { Jobs } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Sheet } from '../../ui/controls';
import { PageHead } from '../../ui/page-head';
import { useMay, useZone } from '../../ui/session';
import { useNow } from '../../ui/use-now';
import { useWidth } from '../../ui/use-width';
import { AddSomething } from '../add-something';
import { FleetTabs } from '../fleet-tabs';
import { DaysAxis } from './days-axis';
import { JobMark } from './job-mark';
import { jobsSentence, lineWords } from './job-words';
import { JobStrip, stripWords } from './strip';

const ROW = 'grid grid-cols-[15rem_minmax(0,1fr)_16rem] gap-4 px-4 py-2 max-md:grid-cols-1';
const USUAL_DAYS = '3';
const SPANS = [
  ['1', 'a day'],
  [USUAL_DAYS, '3 days'],
  ['14', '2 weeks'],
] as const;

/** A line a job: when it was to run, when it ran and for how long, and what is to be said of it. */
export function JobsPage() {
  const days = useSearch({ from: '/signed-in/fleet/jobs' }).days ?? USUAL_DAYS;
  const jobs = useQuery({ ...fleet.jobs(Number(days)), refetchInterval: 5_000, placeholderData: (before) => before });
  const mayChange = useMay()('keep targets');
  return (
    <>
      <FleetTabs>{mayChange && <AddSomething />}</FleetTabs>
      <Answered of={jobs} what="the jobs" className="py-10">
        {(data) => <Listed data={data} />}
      </Answered>
    </>
  );
}

function Listed({ data: { from, to, jobs, unread } }: { data: Jobs }) {
  const [column, width] = useWidth<HTMLDivElement>(600);
  const now = useNow();
  const zone = useZone();
  const sentence = jobsSentence(jobs);
  return (
    <>
      <PageHead title="Jobs" means={sentence}>
        {sentence}
      </PageHead>
      {unread.map((one) => (
        <p key={one.id} role="alert" className="mt-3 rounded-lg border border-critical/40 bg-sheet px-3 py-2">
          “{one.name}” is not watched: what is set of it cannot be read any more. {one.words}.
        </p>
      ))}
      {jobs.length === 0 ? (
        <Sheet className="mt-4 p-6">
          <p>
            A backup that did not run says nothing. Add a job here, let it report when it begins and ends, and you hear of the run
            that did not come.
          </p>
        </Sheet>
      ) : (
        <Sheet className="mt-3">
          <div className={clsx(ROW, 'items-end border-b border-line')}>
            <nav aria-label="Span" className="flex gap-3 text-[13px]">
              {SPANS.map(([key, name]) => (
                <Link
                  key={key}
                  to="/fleet/jobs"
                  search={{ days: key === USUAL_DAYS ? undefined : key }}
                  activeOptions={{ exact: true, includeSearch: true }}
                  className="text-muted hover:text-ink data-[status=active]:font-semibold data-[status=active]:text-ink"
                >
                  {name}
                </Link>
              ))}
            </nav>
            <div ref={column} className="min-w-0 overflow-hidden">
              <DaysAxis from={from} to={to} width={width} />
            </div>
            <span className="text-[13px] text-muted max-md:hidden">what is to be said of it</span>
          </div>
          <ul>
            {jobs.map((job) => (
              <li key={job.settings.id} className={clsx(ROW, 'items-center border-line not-first:border-t max-md:gap-1')}>
                <span className="min-w-0">
                  <span className="flex items-start gap-1.5">
                    <span className="mt-px">
                      <JobMark state={job.state} paused={job.settings.paused} />
                    </span>
                    <Link
                      to="/fleet/jobs/$id"
                      params={{ id: String(job.settings.id) }}
                      className="min-w-0 font-semibold break-words hover:underline"
                    >
                      {job.settings.name}
                    </Link>
                  </span>
                  <span className="block pl-5 text-[13px] text-muted">{job.settings.schedule}</span>
                </span>
                <span className="min-w-0 overflow-hidden">
                  <JobStrip {...job} from={from} to={to} width={width} />
                </span>
                <span className="text-[13px]">
                  <span className={job.state.needsSomebody && !job.settings.paused ? 'font-medium' : 'text-muted'}>
                    {lineWords(job, now, zone)}
                  </span>
                  <span className="block text-muted">{stripWords(job)}</span>
                </span>
              </li>
            ))}
          </ul>
        </Sheet>
      )}
    </>
  );
}
