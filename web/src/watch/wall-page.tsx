import { useQuery } from '@tanstack/react-query';
import { watch as asked } from '../api/queries';
import { Answered } from '../ui/answered';
import { clock, span, tied } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useZone } from '../ui/session';
import { Crystal } from '../ui/severity';
import { useNow } from '../ui/use-now';
import { headlineOf } from './headline';
import { Timeline } from './timeline';

/** Watch as it hangs on a wall: the sentence, the line, who is on call and what is open; nothing to press. */
export function WallPage() {
  const zone = useZone();
  const now = useNow();
  const watch = useQuery(asked.over(6));
  return (
    <Answered of={watch} what="Watch">
      {(data) => {
        const { strong, pale, means } = headlineOf(data);
        const shift = data.shifts.find((one) => one.from <= now && one.to > now);
        return (
          <>
            <div className="flex flex-wrap items-baseline justify-between gap-x-8 gap-y-1">
              <PageHead title="Watch on a wall" means={means}>
                {strong} <span className="font-normal text-muted">{pale}</span>
              </PageHead>
              <p className="text-[16px]">
                {shift ? `${shift.person} is on call until ${clock(shift.to, zone)}` : 'Nobody is on call'}
                <strong className="ml-6 font-semibold">{clock(now, zone)}</strong>
              </p>
            </div>
            <Timeline data={data} now={now} zone={zone} />
            <ul className="mt-4 space-y-2 text-[16px]">
              {data.open.map((one) => (
                <li key={one.id} className="flex items-center gap-3 rounded-xl border border-line bg-sheet px-4 py-3">
                  <Crystal severity={one.severity} />
                  <strong className="min-w-0 flex-1 font-semibold">{tied(one.title)}</strong>
                  <span className="text-muted">
                    {one.service} · since {span(now - one.openedAt)} ·{' '}
                    {one.status === 'acknowledged' ? `${one.acknowledgedBy} has it` : 'nobody has it yet'}
                  </span>
                </li>
              ))}
            </ul>
          </>
        );
      }}
    </Answered>
  );
}
