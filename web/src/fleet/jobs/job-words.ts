import type { Job, JobState } from '../../api/types';
import { clock, dayClock, listed, many, span } from '../../ui/format';

const GRAVITY: JobState['verdict'][] = ['never reported', 'missing', 'failing', 'too long', 'overlapping'];
const WORDS: Record<JobState['verdict'], (count: number) => string> = {
  'never reported': () => 'never reported',
  missing: (count) => `${count === 1 ? 'is' : 'are'} missing`,
  failing: (count) => (count === 1 ? 'fails' : 'fail'),
  'too long': (count) => (count === 1 ? 'takes too long' : 'take too long'),
  overlapping: (count) => (count === 1 ? 'overlaps itself' : 'overlap themselves'),
  late: (count) => `${count === 1 ? 'is' : 'are'} late`,
  unseen: () => 'may have run unseen',
  running: (count) => (count === 1 ? 'runs' : 'run'),
  well: (count) => `${count === 1 ? 'is' : 'are'} well`,
  waiting: (count) => `${count === 1 ? 'has' : 'have'} not been due yet`,
};
const TWO_DAYS_MS = 2 * 86_400_000;

/** "“nightly backup” is missing; “tide import” fails." */
export function jobsSentence(jobs: Pick<Job, 'settings' | 'state'>[]): string {
  if (jobs.length === 0) return 'No job reports here yet.';
  const watched = jobs.filter((job) => !job.settings.paused);
  const parts = GRAVITY.flatMap((verdict) => {
    const named = watched.filter((job) => job.state.verdict === verdict).map((job) => `“${job.settings.name}”`);
    return named.length === 0 ? [] : [`${listed(named)} ${WORDS[verdict](named.length)}`];
  });
  if (parts.length > 0) return `${parts.join('; ')}.`;
  return watched.length === 1 ? 'The one job is as it should be.' : `All ${many(watched.length, 'job')} are as they should be.`;
}

/** What stands at the end of a job's line. */
export function lineWords(job: Pick<Job, 'settings' | 'state'>, now: number, zone: string): string {
  if (job.settings.paused) return 'paused';
  const { verdict, words, due } = job.state;
  const when = due - now > TWO_DAYS_MS ? dayClock(due, zone) : clock(due, zone);
  if (words !== '' && verdict !== 'waiting') return words;
  return due > now ? `next ${when}, in ${span(due - now)}` : `due ${when}`;
}

/** "is well; ran 12 min ago and took 32 s." as the sentence of its own page. */
export function jobSentence(job: Pick<Job, 'settings' | 'state' | 'runs'>, now: number): string {
  if (job.settings.paused) return 'is paused.';
  const last = job.runs.findLast((run) => run.endedAt !== null);
  const ran =
    job.state.verdict === 'well' && last?.endedAt
      ? `; ran ${span(Math.max(0, now - last.beganAt))} ago and took ${span(last.endedAt - last.beganAt)}`
      : '';
  return `${WORDS[job.state.verdict](1)}${ran}.`;
}
