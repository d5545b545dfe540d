import type { Check, Job, Target } from '../../api/types';
import { listed, many } from '../../ui/format';
import { verdictWords, worst } from '../checks/verdict';
import { fleetSentence } from '../health';

/** How a service is: from outside first, since that is what its users see; then what it says of itself. */
export function serviceSentence(checks: Check[], targets: Target[], jobs: Pick<Job, 'settings' | 'state'>[]): string {
  const asked = checks.filter((check) => !check.paused && check.states.length > 0);
  const verdict = worst(asked.flatMap((check) => check.states));
  const seen = asked.filter((check) => worst(check.states) === verdict).map((check) => `“${check.name}”`);
  const outside =
    verdict === null
      ? 'Nobody asks it from outside.'
      : verdict === 'runs'
        ? 'Seen from outside it runs.'
        : `Seen from outside: ${verdictWords(verdict)}, says ${listed(seen)}.`;
  const inside =
    targets.length === 0
      ? 'Nothing of it tells how it is inside.'
      : `Inside: ${fleetSentence(targets)
          .trim()
          .replace(/^[A-Z]/, (one) => one.toLowerCase())}`;
  const wanting = jobs.filter((job) => job.state.needsSomebody && !job.settings.paused);
  const late = wanting.length === 0 ? '' : ` ${many(wanting.length, 'job')} ${wanting.length === 1 ? 'needs' : 'need'} somebody.`;
  return `${outside} ${inside}${late}`;
}
