import type { Replay } from '../api/types';
import { Sheet } from '../ui/controls';
import { quantity, span } from '../ui/format';
import type { RuleDraft } from './rule-fields';

/** How long from the onset to the first message, part by part. */
export function OnsetStrip({ rule, timing }: { rule: RuleDraft; timing: Replay['timing'] }) {
  const parts = [
    ['reading', timing.intervalMs, '≤ '],
    ['look', timing.stepMs, '≤ '],
    ['window', timing.windowMs, '≤ '],
    ['hold', rule.holdSeconds * 1000, ''],
    ['gather', timing.gatherMs, ''],
    ['send', timing.sendMs ?? 0, ''],
  ].filter((part): part is [string, number, string] => (part[1] as number) > 0);
  const total = parts.reduce((sum, [, ms]) => sum + ms, 0);
  return (
    <Sheet label="From onset to the first message" className="p-4">
      <h2 className="mb-2">From onset to the first message</h2>
      <div className="flex gap-0.5">
        {parts.map(([name, ms, about], i) => (
          <div key={name} style={{ flexGrow: Math.sqrt(ms), flexBasis: 0 }} className="min-w-14">
            <div className="truncate text-[12px] text-muted">{name}</div>
            <div className="h-4 rounded-sm bg-accent" style={{ opacity: 0.3 + (0.7 * i) / parts.length }} />
            <div className="truncate text-[12px]">{about + (ms < 1000 ? quantity(ms / 1000, 'seconds') : span(ms))}</div>
          </div>
        ))}
      </div>
      <p className="mt-2 text-muted">
        At most about {span(total)} after a sudden change, by the slowest target it looks at
        {timing.sendMs === null ? '; no mail has gone out yet to tell how long sending takes' : ''}.
      </p>
    </Sheet>
  );
}
