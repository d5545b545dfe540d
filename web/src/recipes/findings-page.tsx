import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { fleet } from '../api/queries';
import type { Finding, Findings } from '../api/types';
import { FleetTabs } from '../fleet/fleet-tabs';
import { Answered } from '../ui/answered';
import { Button, Input, Sheet, labelWords } from '../ui/controls';
import { dayClock, many, quantity } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { GRADES, GRADE_WORDS, findingsSentence, ofGrade } from './finding-words';

/** Known faults that are so now, by how much they matter, each with what to do; none of them wakes anybody. */
export function FindingsPage() {
  const findings = useQuery({ ...fleet.findings(), refetchInterval: 60_000 });
  const queries = useQueryClient();
  const mayKeep = useMay()('keep targets');
  const look = useMutation({
    mutationFn: () => send('post', '/api/findings/look'),
    onSuccess: (found) => queries.setQueryData(fleet.findings().queryKey, found),
    onError: sayFailure,
  });
  return (
    <>
      <FleetTabs>
        {mayKeep && (
          <Button disabled={look.isPending} onClick={() => look.mutate()}>
            {look.isPending ? 'Looking …' : 'Look anew'}
          </Button>
        )}
      </FleetTabs>
      <Answered of={findings} what="the findings" className="py-10">
        {(data) => <Listed data={data} mayKeep={mayKeep} />}
      </Answered>
    </>
  );
}

function Listed({ data, mayKeep }: { data: Findings; mayKeep: boolean }) {
  const zone = useZone();
  const sentence = findingsSentence(data);
  const aside = data.findings.filter((one) => one.asideAt !== null);
  return (
    <>
      <PageHead title="Findings" means={sentence}>
        {sentence}{' '}
        <span className="font-normal text-muted">
          What is wrong long before it pages; it wakes nobody.
          {data.lookedAt !== null && ` Looked for last ${dayClock(data.lookedAt, zone)}.`}
        </span>
      </PageHead>
      {data.unread.length > 0 && (
        <div role="status" className="mt-3 rounded-lg border border-minor/40 bg-sheet px-3 py-2 break-words">
          {many(data.unread.length, 'finding')} could not be looked for: {data.unread.slice(0, 5).join('; ')}
        </div>
      )}
      {GRADES.map((grade) => {
        const found = ofGrade(data.findings, grade);
        return (
          found.length > 0 && (
            <Sheet key={grade} className="mt-3 p-4" label={GRADE_WORDS[grade]}>
              <h2>{GRADE_WORDS[grade]}</h2>
              <ul className="mt-1 divide-y divide-line">
                {found.map((one) => (
                  <Row key={one.id} finding={one} mayKeep={mayKeep} />
                ))}
              </ul>
            </Sheet>
          )
        );
      })}
      {aside.length > 0 && (
        <Sheet className="mt-3 p-4" label="Left aside">
          <h2>Left aside</h2>
          <ul className="mt-1 divide-y divide-line">
            {aside.map((one) => (
              <Row key={one.id} finding={one} mayKeep={mayKeep} />
            ))}
          </ul>
        </Sheet>
      )}
      {data.findings.length === 0 && (
        <Sheet className="mt-3 p-6">
          <p>
            Every ten minutes Olivine looks for faults that{' '}
            <Link to="/fleet/recipes" className="underline">
              recipes
            </Link>{' '}
            know of what is watched here.{data.lookedAt !== null && ' There are none now.'}
          </p>
        </Sheet>
      )}
    </>
  );
}

function Row({ finding, mayKeep }: { finding: Finding; mayKeep: boolean }) {
  const zone = useZone();
  const queries = useQueryClient();
  const [reason, setReason] = useState<string | null>(null);
  const again = () => void queries.invalidateQueries({ queryKey: fleet.findings().queryKey });
  const path = { id: finding.id };
  const back = useMutation({
    mutationFn: () => send('post', '/api/findings/{id}/back', { path }),
    onSuccess: again,
    onError: sayFailure,
  });
  const aside = useMutation({
    mutationFn: (why: string) => send('post', '/api/findings/{id}/aside', { path, body: { reason: why } }),
    onSuccess: () => {
      setReason(null);
      again();
      toast(`${finding.name} is left aside.`, { action: { label: 'Undo', onClick: () => back.mutate() } });
    },
    onError: sayFailure,
  });
  return (
    <li className="py-2.5">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <b>{finding.name}</b>
        <span className="break-words">{labelWords(finding.labels)}</span>
        <span className="text-[13px] text-muted">
          {quantity(finding.value, finding.unit)}, since {dayClock(finding.firstAt, zone)}
        </span>
        {mayKeep && (
          <span className="ml-auto">
            {finding.asideAt === null ? (
              <Button
                look="quiet"
                aria-label={`Leave aside …: ${finding.name}, ${labelWords(finding.labels)}`}
                onClick={() => setReason(reason === null ? '' : null)}
              >
                Leave aside …
              </Button>
            ) : (
              <Button look="quiet" disabled={back.isPending} onClick={() => back.mutate()}>
                Take up again
              </Button>
            )}
          </span>
        )}
      </div>
      <p className="text-[13px]">
        {finding.remedy}{' '}
        <Link to="/metrics" search={{ formula: finding.formula }} className="underline">
          See it in Metrics
        </Link>
      </p>
      {finding.asideAt !== null && (
        <p className="text-[13px] text-muted">
          Left aside by {finding.asideBy}, {dayClock(finding.asideAt, zone)}: {finding.reason}
        </p>
      )}
      {reason !== null && (
        <form
          className="mt-1 flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            aside.mutate(reason.trim());
          }}
        >
          <Input
            name="reason"
            aria-label={`Why ${finding.name} is left aside`}
            placeholder="why it is meant so"
            maxLength={300}
            className="max-w-96"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button type="submit" look="accent" disabled={reason.trim() === '' || aside.isPending}>
            Leave aside
          </Button>
          <Button onClick={() => setReason(null)}>Cancel</Button>
        </form>
      )}
    </li>
  );
}
