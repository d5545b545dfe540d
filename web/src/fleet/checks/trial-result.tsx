import type { CheckTrial } from '../../api/types';
import { labelWords } from '../../ui/controls';
import { many, quantity, whole } from '../../ui/format';
import { Exchange } from './exchange';
import { PickedDocument } from './picked-document';
import { VerdictMark, verdictWords } from './verdict';

/** What the check would come to, asked once: the verdict, the whole exchange, what it would keep, and what that costs. */
export function TrialResult({ trial, onPick }: { trial: CheckTrial; onPick?: (where: string, shown: string) => void }) {
  const own = trial.readings.filter((reading) => !reading.metric.startsWith('check_'));
  return (
    <div role="status" className="space-y-3 rounded-lg border border-line bg-accent-soft/40 px-3 py-2">
      <p>
        <VerdictMark verdict={trial.verdict} /> <b>It {verdictWords(trial.verdict)}.</b> {trial.words !== '' && `${trial.words}.`}
      </p>
      <Exchange steps={trial.steps} />
      {own.length > 0 && (
        <ul aria-label="Numbers it keeps">
          {own.map((reading) => (
            <li key={`${reading.metric} ${labelWords(reading.labels)}`}>
              <span className="font-mono text-[12.5px]">{reading.metric}</span> <b>{quantity(reading.value, reading.unit)}</b>
            </li>
          ))}
        </ul>
      )}
      {trial.text !== '' && onPick && (
        <div>
          <p className="mb-1 text-[13px] text-muted">What came back last; click a value to keep it as a metric.</p>
          <PickedDocument text={trial.text} onPick={onPick} />
        </div>
      )}
      <p className="text-[13px]">
        A day of it: {whole(trial.readingsADay)} readings, about {quantity(trial.bytesADay, 'bytes')} in the store; its servers
        are asked {many(trial.requestsADay, 'time')} and send {quantity(trial.trafficADay, 'bytes')}.
      </p>
    </div>
  );
}
