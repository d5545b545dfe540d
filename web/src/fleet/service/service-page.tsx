import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from '@tanstack/react-router';
import { fleet, watch } from '../../api/queries';
import type { Checks, Jobs, Target } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Sheet } from '../../ui/controls';
import { span, tied } from '../../ui/format';
import { PageHead } from '../../ui/page-head';
import { useZone } from '../../ui/session';
import { Crystal } from '../../ui/severity';
import { useNow } from '../../ui/use-now';
import { Crossings } from '../checks/crossings';
import { FleetTabs } from '../fleet-tabs';
import { targetSentence } from '../health';
import { JobMark } from '../jobs/job-mark';
import { lineWords } from '../jobs/job-words';
import { pageOf, sortOf } from '../kinds';
import { Rail } from '../rail';
import { serviceSentence } from './service-words';

/** One service from outside and from inside, tied by its label: what users see, what its machines say, its jobs, what is open. */
export function ServicePage() {
  const { name } = useParams({ from: '/signed-in/fleet/service/$name' });
  const targets = useQuery({ ...fleet.targets(), refetchInterval: 5_000 });
  const checks = useQuery({ ...fleet.checks(), refetchInterval: 5_000 });
  const jobs = useQuery({ ...fleet.jobs(1), refetchInterval: 10_000 });
  return (
    <>
      <FleetTabs />
      <Answered of={checks} what="its checks" className="py-10">
        {(seen) => (
          <Answered of={targets} what="its targets" className="py-10">
            {(all) => (
              <Answered of={jobs} what="its jobs" className="py-10">
                {(run) => <Opened key={name} name={name} seen={seen} all={all} run={run} />}
              </Answered>
            )}
          </Answered>
        )}
      </Answered>
    </>
  );
}

function Opened({ name, seen, all, run }: { name: string; seen: Checks; all: Target[]; run: Jobs }) {
  const now = useNow();
  const zone = useZone();
  const checks = seen.checks.filter((check) => check.labels['service'] === name);
  const targets = all.filter((target) => target.labels['service'] === name && ['metrics', 'handed in'].includes(sortOf(target)));
  const jobs = run.jobs.filter((job) => job.settings.labels['service'] === name);
  const sentence = serviceSentence(checks, targets, jobs);
  return (
    <>
      <PageHead title={name} means={`${name} ${sentence}`}>
        {name} <span className="font-normal text-muted">{sentence}</span>
      </PageHead>
      <OpenNow service={name} />
      <h2 className="mt-5">From outside</h2>
      {checks.length > 0 ? (
        <Crossings data={{ ...seen, checks }} shown={checks} />
      ) : (
        <p className="mt-1 text-muted">
          No check carries the label service {name}. One that asks as a user would tells an outage from a number that looks odd.
        </p>
      )}
      <h2 className="mt-5">From inside</h2>
      {targets.length > 0 ? (
        <Sheet className="mt-2" label="From inside">
          <ul className="divide-y divide-line">
            {targets.map((target) => (
              <li key={target.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 py-2">
                <Rail target={target} />
                <Link
                  to={pageOf(target)}
                  params={{ id: String(target.id) }}
                  className="w-44 truncate font-semibold hover:underline max-sm:w-auto"
                >
                  {target.name}
                </Link>
                <span className="text-muted">{targetSentence(target, now)}</span>
                {target.status && !target.status.ok && !target.paused && (
                  <span className="min-w-0 basis-full text-[13px] break-words text-critical">{target.status.message}</span>
                )}
              </li>
            ))}
          </ul>
        </Sheet>
      ) : (
        <p className="mt-1 text-muted">No target carries the label service {name}.</p>
      )}
      {jobs.length > 0 && (
        <>
          <h2 className="mt-5">Its jobs</h2>
          <Sheet className="mt-2" label="Its jobs">
            <ul className="divide-y divide-line">
              {jobs.map((job) => (
                <li key={job.settings.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-2">
                  <JobMark state={job.state} paused={job.settings.paused} />
                  <Link to="/fleet/jobs/$id" params={{ id: String(job.settings.id) }} className="font-semibold hover:underline">
                    {job.settings.name}
                  </Link>
                  <span className="text-muted">{job.settings.schedule}</span>
                  <span className="ml-auto text-muted">{lineWords(job, now, zone)}</span>
                </li>
              ))}
            </ul>
          </Sheet>
        </>
      )}
    </>
  );
}

/** What of it needs a person now. */
function OpenNow({ service }: { service: string }) {
  const seen = useQuery(watch.over(6));
  const now = useNow();
  const open = seen.data?.open.filter((incident) => incident.service === service) ?? [];
  if (open.length === 0) return null;
  return (
    <Sheet className="mt-3" label="Open now">
      <ul className="divide-y divide-line">
        {open.map((incident) => (
          <li key={incident.id} className="flex items-start gap-2 px-4 py-2">
            <span className="mt-0.5">
              <Crystal severity={incident.severity} />
            </span>
            <Link to="/incidents/$id" params={{ id: String(incident.id) }} className="min-w-0 break-words hover:underline">
              {tied(incident.title)}
            </Link>
            <span className="ml-auto shrink-0 text-muted">since {span(now - incident.openedAt)}</span>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
