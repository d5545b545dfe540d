import { useQuery } from '@tanstack/react-query';
import { rules } from '../api/queries';
import { clock } from './format';
import { labelKey } from './label-key';
import { useZone } from './session';

/** When one alert of a rule would clear, if all stayed as it was read last. */
export function ClearingLine({ rule, labels }: { rule: number; labels: Record<string, string> }) {
  const zone = useZone();
  const clearing = useQuery(rules.clearing(rule));
  const key = labelKey(labels);
  const found = clearing.data?.find((one) => labelKey(one.labels) === key);
  if (!found) return null;
  return (
    <span className="rounded-full border border-line px-2.5 py-0.5">
      {found.at === null ? 'will not clear while it reads as now' : `clears at ${clock(found.at, zone)} if it reads as now`}
    </span>
  );
}
