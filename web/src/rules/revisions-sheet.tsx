import { useQuery } from '@tanstack/react-query';
import { rules as asked } from '../api/queries';
import type { Revision, Rule, RuleDefinition } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { useZone } from '../ui/session';
import { changedWords } from './changed-words';

/** Every state of the rule, with who, when and why, and a way back to each. */
export function RevisionsSheet({ rule, onBack }: { rule: Rule; onBack?: (definition: RuleDefinition) => void }) {
  const zone = useZone();
  const revisions = useQuery(asked.revisions(rule.id));
  return (
    <Sheet label="Revisions" className="p-4">
      <h2>Revisions</h2>
      <Answered of={revisions} what="the revisions" className="mt-1">
        {(data) => (
          <ol className="mt-1 space-y-2">
            {data.map((one, i) => (
              <li key={one.number} className="border-t border-line pt-2 first:border-t-0">
                <div className="flex flex-wrap items-baseline gap-x-2">
                  <strong className="font-semibold">{one.number}</strong>
                  <span>{dayClock(one.at, zone)}</span>
                  <span className="text-muted">{one.author ?? 'Olivine'}</span>
                  {one.number === rule.revision ? (
                    <span className="ml-auto text-muted">in service</span>
                  ) : (
                    onBack && (
                      <Button className="ml-auto" onClick={() => onBack(one.definition)}>
                        Back to this
                      </Button>
                    )
                  )}
                </div>
                {one.reason && <p className="break-words">{one.reason}</p>}
                <p className="text-[13px] break-words text-muted">{sentenceOf(one, data[i + 1])}</p>
              </li>
            ))}
          </ol>
        )}
      </Answered>
    </Sheet>
  );
}

const sentenceOf = (one: Revision, before: Revision | undefined) =>
  before ? changedWords(before.definition, one.definition).join('; ') || 'says the same' : 'the first';
