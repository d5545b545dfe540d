import { useQuery } from '@tanstack/react-query';
import { rules as asked } from '../api/queries';
import type { RuleDefinition } from '../api/types';
import { Button } from '../ui/controls';
import { many } from '../ui/format';

type Props = {
  rule: number;
  definition: RuleDefinition;
  hours: number;
  waits: boolean;
  onTake?: (definition: RuleDefinition) => void;
};

/** The settings that keep what was marked useful with the fewest others. */
export function Proposal({ rule, definition, hours, waits, onTake }: Props) {
  const marks = useQuery(asked.marks(rule));
  const said = (marks.data ?? []).map((mark) => [mark.raisedAt, mark.worth]);
  const proposal = useQuery({ ...asked.proposal(rule, definition, hours, said), enabled: !waits && said.length > 0 });
  if (said.length === 0) {
    return (
      <p className="mt-2 text-muted">
        Say of each whether it was useful or noise: then Olivine proposes the settings that keep the useful ones with the fewest
        others.
      </p>
    );
  }
  if (proposal.error) return <p className="mt-2 text-muted">No proposal: {proposal.error.message}</p>;
  if (!proposal.data) return <p className="mt-2 text-muted">Trying settings against {many(said.length, 'mark')} …</p>;
  const { best, definition: better, words } = proposal.data;
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3 rounded-lg bg-future px-3 py-2">
      <p className="min-w-0 flex-1">{words}</p>
      {best && better && onTake && <Button onClick={() => onTake(better)}>Take it as a draft</Button>}
    </div>
  );
}
