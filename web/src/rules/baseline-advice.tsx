import { useQuery } from '@tanstack/react-query';
import { rules } from '../api/queries';
import type { DepartureFields } from '../api/types';
import { Button } from '../ui/controls';
import { heldAgainst } from './conditions/departure';

type Props = {
  formula: string;
  condition: DepartureFields;
  /** Another long question of this page is on its way. */
  waits: boolean;
  onTake?: (condition: DepartureFields) => void;
};

/** Which baseline suits what the rule looks at, from its own past, and why. */
export function BaselineAdvice({ formula, condition, waits, onTake }: Props) {
  const asked = useQuery({ ...rules.advice(formula), enabled: !waits });
  if (asked.error)
    return <p className="mt-3 text-[13px] text-muted">Which baseline suits it cannot be told: {asked.error.message}</p>;
  if (!asked.data) return <p className="mt-3 text-[13px] text-muted">Looking at which baseline suits it …</p>;
  const { from, known, words } = asked.data;
  const isTaken = from === condition.from;
  return (
    <p className="mt-3 rounded-lg bg-future px-3 py-2 text-[13px]">
      {words} {known && isTaken && <span className="text-muted">It is what this rule holds it against.</span>}
      {known && !isTaken && onTake && (
        <Button onClick={() => onTake(heldAgainst(condition, from))} className="ml-1">
          Take it
        </Button>
      )}
    </p>
  );
}
