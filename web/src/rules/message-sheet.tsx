import { useQuery } from '@tanstack/react-query';
import { rules } from '../api/queries';
import type { RuleDefinition } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';

/** The first message of a rule as it would arrive, with what is read now. */
export function MessageSheet({
  definition,
  waits,
}: {
  definition: RuleDefinition;
  /** what is more urgent is under way */ waits: boolean;
}) {
  const message = useQuery(rules.message(definition, waits));
  return (
    <Sheet label="The message" className="mt-4 p-4">
      <h2>What the first message says</h2>
      <Answered of={message} what="the message">
        {({ subject, text, isPast }) =>
          subject === null ? (
            <p className="mt-1 text-muted">Nothing has a value now, so there is nothing to show.</p>
          ) : (
            <>
              {!isPast && (
                <p className="mt-1 text-[13px] text-muted">With what is nearest to its limit now; it is not past it.</p>
              )}
              <p className="mt-2 font-semibold break-words">{subject}</p>
              <pre className="mt-1 font-sans text-[14px] break-words whitespace-pre-wrap">{text}</pre>
            </>
          )
        }
      </Answered>
    </Sheet>
  );
}
