import { type MouseEvent, memo } from 'react';
import type { Job } from '../../api/types';
import { dayClock, many, span } from '../../ui/format';
import { useZone } from '../../ui/session';

const HEIGHT = 26;
const FLOOR = 20;
const BAR = 9;
const LEAST_BAR = 2.5;
const NEAR = 5;

type Strip = Pick<Job, 'settings' | 'expected' | 'runs'> & { from: number; to: number; width: number };

/**
 * A line over the last days: at each time that the job was to run an open tick, each run filled and as long as it took, a cross
 * where none came.
 */
export const JobStrip = memo(function JobStrip({ settings, expected, runs, from, to, width }: Strip) {
  const zone = useZone();
  const x = (at: number) => ((at - from) / (to - from)) * width;
  const ticks = expected.filter((one) => one.at >= from && one.at <= to);
  const missing = ticks.filter((one) => one.state === 'missing');
  const bar = (kind: string) =>
    runs
      .filter((run) => kindOf(run, late) === kind)
      .map((run) => {
        const left = Math.max(0, x(run.beganAt));
        const wide = Math.max(LEAST_BAR, x(run.endedAt ?? to) - left);
        return `M${left.toFixed(1)} ${FLOOR - BAR}h${wide.toFixed(1)}v${BAR}h${(-wide).toFixed(1)}z`;
      })
      .join('');
  const late = new Set(expected.filter((one) => one.state === 'ran late').map((one) => one.run));
  const point = (event: MouseEvent<SVGSVGElement>) => {
    const at = event.nativeEvent.offsetX;
    const run = runs.findLast((one) => at >= x(one.beganAt) - NEAR && at <= x(one.endedAt ?? to) + NEAR);
    const due = ticks.find((one) => Math.abs(x(one.at) - at) <= NEAR && one.run === null);
    event.currentTarget.querySelector('title')!.textContent = run
      ? `${dayClock(run.beganAt, zone)}: ${howRun(run, to)}`
      : due
        ? `${dayClock(due.at, zone)}: ${due.state === 'missing' ? 'should have run, and did not' : due.state === 'unseen' ? 'Olivine stood still' : 'due'}`
        : '';
  };
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`${settings.name}: ${stripWords({ expected: ticks, runs })}`}
      className="block"
      opacity={settings.paused ? 0.4 : 1}
      onMouseMove={point}
    >
      <title />
      <path d={`M0 ${FLOOR + 0.5}H${width}`} stroke="var(--line)" />
      <path
        d={ticks.map((one) => `M${x(one.at).toFixed(1)} ${FLOOR}v${-BAR - 4}`).join('')}
        stroke="var(--muted)"
        strokeOpacity="0.45"
      />
      <path d={bar('done')} fill="var(--accent)" />
      <path d={bar('late')} fill="var(--minor)" />
      <path d={bar('runs')} fill="var(--accent)" fillOpacity="0.45" />
      <path d={bar('failed')} fill="none" stroke="var(--critical)" strokeWidth="1.6" />
      <path
        d={missing.map((one) => `M${(x(one.at) - 3).toFixed(1)} ${FLOOR - 9}l6 6m-6 0l6 -6`).join('')}
        stroke="var(--critical)"
        strokeWidth="1.8"
        fill="none"
      />
    </svg>
  );
});

type Run = Job['runs'][number];
const kindOf = (run: Run, late: Set<number | null>) =>
  run.endedAt === null ? 'runs' : run.outcome === 'failed' ? 'failed' : late.has(run.id) ? 'late' : 'done';

/** `took 12 min`, `failed after 3 s with exit code 2`. */
export function howRun(run: Run, now: number): string {
  const took = span((run.endedAt ?? now) - run.beganAt);
  if (run.endedAt === null) return `has not said that it ended, for ${took}`;
  if (run.outcome === 'done') return `took ${took}`;
  return `failed after ${took}${run.exitCode === null ? '' : ` with exit code ${run.exitCode}`}`;
}

/** "14 runs, one failed; two did not come". */
export function stripWords({ expected, runs }: Pick<Job, 'expected' | 'runs'>): string {
  const failed = runs.filter((run) => run.outcome === 'failed').length;
  const missing = expected.filter((one) => one.state === 'missing').length;
  return `${many(runs.length, 'run')}${failed === 0 ? '' : `, ${failed} failed`}${missing === 0 ? '' : `; ${missing} did not come`}`;
}
