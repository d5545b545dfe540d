import type { JobState } from '../../api/types';

/** Shape and hue, never hue alone: a cross, a half rhombus, a ring, a dot. */
export function JobMark({ state, paused }: { state: JobState; paused: boolean }) {
  const { verdict } = state;
  const isGone = verdict === 'missing' || verdict === 'never reported';
  const isWrong = state.needsSomebody && !isGone;
  return (
    <svg viewBox="-7 -7 14 14" width="14" height="14" className="inline-block shrink-0 align-[-2px]" aria-hidden>
      {!paused && isGone && <path d="M-4.5 -4.5L4.5 4.5M4.5 -4.5L-4.5 4.5" stroke="var(--critical)" strokeWidth="2.4" />}
      {!paused && isWrong && (
        <>
          <path d="M0 -6L6 0L0 6L-6 0Z" fill="none" stroke="var(--major)" strokeWidth="1.4" />
          <path d="M0 -6L-6 0L0 6Z" fill="var(--major)" />
        </>
      )}
      {!paused && verdict === 'running' && <circle r="4.2" fill="none" stroke="var(--accent)" strokeWidth="2" />}
      {!paused && verdict === 'late' && <circle r="4.2" fill="none" stroke="var(--minor)" strokeWidth="2" />}
      {!paused && verdict === 'well' && <circle r="3.2" fill="var(--accent)" />}
      {(paused || verdict === 'waiting' || verdict === 'unseen') && (
        <circle r="4.6" fill="none" stroke="var(--muted)" strokeWidth="1.4" strokeDasharray="2.4 2" />
      )}
    </svg>
  );
}
