import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { RehearsalsPage, RehearsedStep, ShownRehearsal } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, labelWords, Sheet } from '../ui/controls';
import { clockSeconds, dayClock, quantity } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { Crystal } from '../ui/severity';
import { DeliveryTabs } from './delivery-tabs';
import { RehearseForm } from './rehearse-form';

/** Whether a message arrives is found out by day: a real course, with people who agreed. */
export function RehearsePage() {
  const may = useMay();
  const { rule } = useSearch({ from: '/signed-in/delivery/rehearse' });
  const rehearsals = useQuery(delivery.rehearsals());
  const [asking, setAsking] = useState(rule !== undefined);
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <div className="mr-auto">
          <PageHead title="Rehearse">{rehearsals.data?.words ?? 'Whether a message arrives is found out by day.'}</PageHead>
        </div>
        {may('answer incidents') && !asking && (
          <Button look="accent" onClick={() => setAsking(true)}>
            Rehearse …
          </Button>
        )}
      </div>
      {asking && may('answer incidents') && <RehearseForm rule={rule} onDone={() => setAsking(false)} />}
      <Sheet label="Rehearsals" className="mt-3">
        <Answered
          of={rehearsals}
          what="the rehearsals"
          className="px-4 py-3"
          isEmpty={(found) => found.rehearsals.length === 0}
          empty={
            <p className="px-4 py-6 text-muted">
              An alert is played with people who agreed: by the real ladder and the real channels, up to the answer and the
              recovery. Every message says that it is a rehearsal, nobody else is told, and no figure counts it.
            </p>
          }
        >
          {(found) => (
            <ul className="divide-y divide-line">
              {found.rehearsals.map((one) => (
                <li key={one.id} className="px-4 py-3">
                  <Rehearsal of={one} />
                </li>
              ))}
            </ul>
          )}
        </Answered>
      </Sheet>
    </>
  );
}

function Rehearsal({ of }: { of: ShownRehearsal }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const keep = (page: RehearsalsPage) => queries.setQueryData(delivery.rehearsals().queryKey, page);
  const act = useMutation({
    mutationFn: (what: 'agree' | 'begin' | 'end') => send('post', `/api/rehearsals/{id}/${what}`, { path: { id: of.id } }),
    onSuccess: keep,
    onError: sayFailure,
  });
  const isOver = of.endedAt !== null;
  const waitsForMe = of.begunAt === null && !isOver && of.people.some((one) => one.self && !one.agreed);
  const anyAgreed = of.people.some((one) => one.agreed);
  return (
    <>
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <div className="min-w-0 flex-1 basis-80">
          <p className="flex items-center gap-2">
            <Crystal severity={of.severity} />
            <span className="font-semibold">{of.rule}</span>
            <span className="min-w-0 truncate font-mono text-[12.5px] text-muted">{labelWords(of.labels)}</span>
          </p>
          <p className="mt-0.5">
            {of.words}{' '}
            {of.incident !== null && (
              <Link
                to="/incidents/$id"
                params={{ id: String(of.incident) }}
                className="underline decoration-line underline-offset-2"
              >
                Its trail
              </Link>
            )}
          </p>
          <p className="text-[13px] text-muted">
            {of.askedBy} asked {dayClock(of.askedAt, zone)}:{' '}
            {of.people
              .map((one) => `${one.name} ${one.agreed ? 'agreed' : isOver ? 'did not agree' : 'has not agreed yet'}`)
              .join(', ')}
          </p>
        </div>
        {may('answer incidents') && !isOver && (
          <span className="flex gap-2">
            {waitsForMe && (
              <Button look="accent" disabled={act.isPending} onClick={() => act.mutate('agree')}>
                I agree
              </Button>
            )}
            {of.begunAt === null && (
              <Button
                look={waitsForMe ? undefined : 'accent'}
                disabled={act.isPending || !anyAgreed}
                onClick={() => act.mutate('begin')}
              >
                Begin
              </Button>
            )}
            <Button disabled={act.isPending} onClick={() => act.mutate('end')}>
              {of.begunAt === null ? 'Call it off' : 'End it'}
            </Button>
          </span>
        )}
      </div>
      {of.steps.length > 0 && <Steps steps={of.steps} />}
    </>
  );
}

function Steps({ steps }: { steps: RehearsedStep[] }) {
  const zone = useZone();
  return (
    <table className="mt-2 w-full text-[13px]">
      <thead className="sr-only">
        <tr>
          <th>When</th>
          <th>What</th>
          <th>Took</th>
        </tr>
      </thead>
      <tbody>
        {steps.map((step, place) => (
          <tr key={place} className="align-baseline">
            <td className="w-20 py-0.5 pr-3 text-muted tabular-nums">{clockSeconds(step.at, zone)}</td>
            <td className={step.failed ? 'py-0.5 text-critical' : 'py-0.5'}>
              {step.words}
              {step.said !== '' && step.failed && <span className="block break-words">{step.said}</span>}
            </td>
            <td className="w-24 py-0.5 text-right tabular-nums">
              {step.tookMs === null ? '' : quantity(step.tookMs / 1000, 'seconds')}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
