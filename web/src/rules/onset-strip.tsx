import type { Replay } from '../api/types';
import { Sheet } from '../ui/controls';
import { many, quantity, span } from '../ui/format';
import type { RuleDraft } from './rule-fields';

type Timing = Replay['timing'];
type Part = [name: string, ms: number, about: string];

/** How long from the onset to the first message, part by part, and what looking costs. */
export function OnsetStrip({ rule, timing, series }: { rule: RuleDraft; timing: Timing; series: number }) {
  const parts = there([
    ['reading', timing.intervalMs, '≤ '],
    ['look', timing.stepMs, '≤ '],
    ['window', timing.windowMs, '≤ '],
    ['hold', rule.holdSeconds * 1000, ''],
    ['gather', timing.gatherMs, ''],
    ['send', timing.sendMs ?? 0, ''],
  ]);
  return (
    <Sheet label="From onset to the first message" className="p-4">
      <h2 className="mb-2">From onset to the first message</h2>
      <Parts parts={parts} />
      <p className="mt-2 text-muted">
        At most about {span(total(parts))} after a sudden change, by the slowest target it looks at
        {timing.sendMs === null ? '; no mail has gone out yet to tell how long sending takes' : ''}.
      </p>
      <StopsAtOnce rule={rule} timing={timing} />
      <p className="mt-1 text-muted">
        It looks at {many(series, 'series', 'series')}, {many(Math.round(timing.readingsAMinute), 'reading')} a minute.
      </p>
    </Sheet>
  );
}

/** Everything that is read falls silent: what this rule makes of that, and when. */
function StopsAtOnce({ rule, timing }: { rule: RuleDraft; timing: Timing }) {
  if (timing.blindMs === null)
    return <p className="mt-1 text-muted">That nothing comes is what it looks for, so it is told as above.</p>;
  if (rule.blindSeverity === null)
    return (
      <p className="mt-1 text-muted">
        If everything stops at once, this rule tells nobody; a rule about targets that do not answer must.
      </p>
    );
  const after = total([
    ['unseen', timing.blindMs, ''],
    ['blind', rule.blindAfterSeconds * 1000, ''],
    ['gather', timing.gatherMs, ''],
  ]);
  return (
    <p className="mt-1 text-muted">
      If everything stops at once, {rule.blindSeverity} is told about {span(after)} later.
    </p>
  );
}

function Parts({ parts }: { parts: Part[] }) {
  return (
    <div className="flex gap-0.5">
      {parts.map(([name, ms, about], i) => (
        <div key={name} style={{ flexGrow: Math.sqrt(ms), flexBasis: 0 }} className="min-w-14">
          <div className="truncate text-[12px] text-muted">{name}</div>
          <div className="h-4 rounded-sm bg-accent" style={{ opacity: 0.3 + (0.7 * i) / parts.length }} />
          <div className="truncate text-[12px]">{about + (ms < 1000 ? quantity(ms / 1000, 'seconds') : span(ms))}</div>
        </div>
      ))}
    </div>
  );
}

const there = (parts: Part[]) => parts.filter(([, ms]) => ms > 0);
const total = (parts: Part[]) => parts.reduce((sum, [, ms]) => sum + ms, 0);
