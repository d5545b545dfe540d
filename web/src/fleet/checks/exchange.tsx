import type { CheckTrial } from '../../api/types';
import { quantity } from '../../ui/format';
import { PhaseBar, PhaseKey, totalOf } from './phase-bar';

type Step = CheckTrial['steps'][number];

/** What was asked and what came back, step by step, with where the time went. */
export function Exchange({ steps }: { steps: Step[] }) {
  const longest = Math.max(...steps.map((step) => totalOf(step.phases)), 0.001);
  return (
    <div className="space-y-2">
      {steps.map((step, i) => (
        <div key={i}>
          <div className="grid grid-cols-[7rem_1fr_auto] items-center gap-3">
            <span className="truncate font-medium">{step.name || 'the request'}</span>
            <PhaseBar phases={step.phases} longest={longest} />
            <span className="text-[13px] tabular-nums">
              {step.status === null ? '' : `status ${step.status}, `}
              {quantity(totalOf(step.phases), 'seconds')}
              {step.bytes > 0 && `, ${quantity(step.bytes, 'bytes')}`}
            </span>
          </div>
          {step.fault !== '' && <p className="text-critical">{step.fault}</p>}
          <details className="text-[13px]">
            <summary className="cursor-pointer text-muted hover:text-ink">
              what was sent{step.head !== '' && ' and what came back'}
              {step.ip !== '' && `, ${step.ip}`}
              {step.via.length > 0 && `, sent on ${step.via.length} times`}
            </summary>
            <pre
              className="mt-1 max-h-48 overflow-auto rounded-lg border border-line bg-paper p-2 font-mono text-[12px] whitespace-pre-wrap"
              tabIndex={0}
            >
              {[...step.via.map((from) => `sent on from ${from}`), step.sent, step.head]
                .filter((part) => part !== '')
                .join('\n\n')}
            </pre>
          </details>
        </div>
      ))}
      <PhaseKey />
    </div>
  );
}
