import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { rules as asked } from '../api/queries';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';

/** The rules that look at these metrics. */
export function UsedIn({ metrics }: { metrics: string[] }) {
  const rules = useQuery(asked.all());
  const using = (rules.data ?? []).filter((rule) =>
    metrics.some((metric) => new RegExp(`\\b${metric.replace(/_bucket$/, '')}(_bucket)?\\b`).test(rule.definition.formula)),
  );
  return (
    <Sheet className="p-4" label="Where this is used">
      <h2>Where this is used</h2>
      <Answered of={rules} what="the rules" className="mt-1">
        {() => using.length === 0 && <p className="mt-1 text-muted">No rule looks at it yet.</p>}
      </Answered>
      <ul className="mt-1 space-y-1">
        {using.map((rule) => (
          <li key={rule.id}>
            <Link to="/rules/$id" params={{ id: String(rule.id) }} className="hover:underline">
              {rule.definition.name}
            </Link>{' '}
            <span className="text-muted">
              {rule.raisedInWeek === 0
                ? 'silent this week'
                : `raised ${rule.raisedInWeek === 1 ? 'once' : `${rule.raisedInWeek} times`} this week`}
            </span>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
