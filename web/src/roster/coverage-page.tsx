import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState } from 'react';
import { rosters as asked } from '../api/queries';
import type { CoverageFault, CoveragePage as Page, CoveredStretch } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { day, dayClock } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useZone } from '../ui/session';
import { CoverDialog } from './cover-dialog';
import { midnights } from './local-time';
import { placed } from './place';
import { RosterTabs } from './roster-tabs';

/** Who would hear, hour by hour of the next two weeks, path by path. */
export function CoveragePage() {
  const coverage = useQuery(asked.coverage());
  return (
    <>
      <RosterTabs />
      <Answered of={coverage} what="the coverage">
        {(page) => <Shown page={page} />}
      </Answered>
    </>
  );
}

function Shown({ page }: { page: Page }) {
  const [closes, setCloses] = useState<CoverageFault | null>(null);
  const isGap = page.faults.some((one) => one.grade !== 'weak');
  return (
    <>
      <div className="mt-2">
        <PageHead title="Coverage">
          <span className={isGap ? 'text-critical' : ''}>{page.words}</span>
        </PageHead>
      </div>
      <div className="mt-3 space-y-4">
        <Sheet label="Paths" className="p-4">
          <Rails page={page} />
        </Sheet>
        <Faults page={page} onClose={setCloses} />
      </div>
      {closes && <CloseGap fault={closes} onDone={() => setCloses(null)} />}
    </>
  );
}

function Rails({ page }: { page: Page }) {
  const zone = useZone();
  const [chosen, setChosen] = useState<{ path: string; stretch: CoveredStretch } | null>(null);
  const days = midnights(page.from, page.to, zone);
  return (
    <>
      <div className="grid grid-cols-[160px_minmax(0,1fr)] max-sm:grid-cols-1">
        <span className="max-sm:hidden" />
        <div className="relative h-6 max-sm:hidden">
          {days.slice(1).map((at) => (
            <span key={at} className="absolute text-[12px] text-muted" style={{ left: placed(page, at, at + 1)?.left }}>
              {day(at, zone)}
            </span>
          ))}
        </div>
        {page.paths.map((path) => (
          <div key={path.name} className="contents">
            <div className="border-t border-line py-2 pr-3">
              <span className="font-semibold">{path.name}</span>
              <span className="block text-[12px] leading-tight text-muted">{path.ladder}</span>
            </div>
            <div className="relative min-h-12 border-t border-line max-sm:min-h-8 max-sm:border-0">
              {path.stretches.map((one) => (
                <button
                  key={one.from}
                  type="button"
                  style={placed(page, one.from, one.to) ?? undefined}
                  title={`${dayClock(one.from, zone)} to ${dayClock(one.to, zone)}: ${one.words}`}
                  aria-label={`${path.name}, ${dayClock(one.from, zone)} to ${dayClock(one.to, zone)}: ${one.words}`}
                  aria-pressed={chosen?.stretch === one}
                  onClick={() => setChosen({ path: path.name, stretch: one })}
                  className={clsx(
                    'absolute inset-y-2 overflow-hidden border-r border-sheet text-left text-[11px] whitespace-nowrap',
                    one.isGap && 'z-10 rounded-sm border border-dashed border-critical bg-critical/20',
                    !one.answers && 'bg-[repeating-linear-gradient(-45deg,var(--future)_0_3px,transparent_3px_6px)]',
                    one.answers && !one.isGap && (one.people.length > 0 ? 'bg-accent-soft' : 'bg-future'),
                    chosen?.stretch === one && 'outline-2 outline-accent',
                  )}
                />
              ))}
            </div>
          </div>
        ))}
      </div>
      <p className="mt-2 min-h-5 border-t border-line pt-2" role="status">
        {chosen ? (
          <>
            <span className="font-semibold">{chosen.path}</span>, {dayClock(chosen.stretch.from, zone)} to{' '}
            {dayClock(chosen.stretch.to, zone)}: {chosen.stretch.words}.
          </>
        ) : (
          <span className="text-muted">
            Each stretch is a time in which the same people hear at once; press one to read who. Worked out by the course that
            alerts take, in {Math.round(page.tookMs)} ms.
          </span>
        )}
      </p>
    </>
  );
}

const LOOK = { 'nobody hears': 'text-critical', 'falls through': 'text-major', weak: 'text-minor' } as const;

function Faults({ page, onClose }: { page: Page; onClose: (fault: CoverageFault) => void }) {
  const zone = useZone();
  return (
    <Sheet label="What may keep somebody from hearing" className="p-4">
      <h2>What may keep somebody from hearing</h2>
      {page.faults.length === 0 && <p className="mt-1 text-muted">Nothing that is known.</p>}
      <ul className="mt-1 divide-y divide-line">
        {page.faults.map((one) => (
          <li key={`${one.words} ${one.from}`} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
            <span className={clsx('w-28 shrink-0 font-semibold', LOOK[one.grade])}>{one.grade}</span>
            <span className="min-w-0 flex-1 basis-64">
              {one.words}
              {one.from !== null && one.to !== null && (
                <span className="text-muted">
                  , {dayClock(one.from, zone)} to {dayClock(one.to, zone)}
                </span>
              )}
              <span className="block text-[13px] text-muted">
                {[one.path && `path ${one.path}`, one.rosterId === null && one.remedy].filter(Boolean).join('; ')}
              </span>
            </span>
            {one.rosterId !== null && (
              <Button look="accent" onClick={() => onClose(one)}>
                Close the gap
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** The cover that closes a gap. */
function CloseGap({ fault, onDone }: { fault: CoverageFault; onDone: () => void }) {
  const roster = useQuery(asked.one(fault.rosterId!, undefined, 14));
  const list = useQuery(asked.all());
  return roster.data ? (
    <CoverDialog
      roster={roster.data}
      people={list.data?.people ?? []}
      zone={roster.data.definition.zone}
      wanted={{ from: fault.from ?? 0, to: fault.to ?? 0, forId: fault.forId, personId: null }}
      onDone={onDone}
    />
  ) : null;
}
