import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { fleet, metrics } from '../api/queries';
import { serverNow } from '../api/server-clock';
import { labelKey } from '../ui/label-key';
import type { Costs, Sparks } from './columns';

const HOUR_MS = 3_600_000;
/** What is usual is worked out from four past weeks: of a few hundred targets at most. */
const MOST_USUAL = 200;
const MOST_LINES = 5_000;
const lastHour = () => ({ from: serverNow() - HOUR_MS, to: serverNow() });

/** One curve a target: the highest of its series over the last hour, with what is usual at this hour. */
export function useSparks(metric: string, targets: number | undefined) {
  const formula = `max(${metric}) per target`;
  const chart = useQuery({
    ...metrics.chart(formula, 'last hour', 60, lastHour, MOST_LINES),
    refetchInterval: 30_000,
    placeholderData: undefined,
  });
  const usual = useQuery({
    ...metrics.usual(formula, 'last hour', 12, lastHour),
    enabled: targets !== undefined && targets > 0 && targets <= MOST_USUAL,
    refetchInterval: 300_000,
  });
  const sparks = useMemo((): Sparks => {
    const lines = chart.data?.lines ?? [];
    const targetOf = new Map(lines.map((line) => [labelKey(line.labels), line.labels['target'] ?? '']));
    return {
      metric,
      unit: chart.data?.unit ?? '',
      lines: new Map(lines.map((line) => [line.labels['target'] ?? '', line])),
      bands: new Map((usual.data?.bands ?? []).map((band) => [targetOf.get(band.key) ?? '', band])),
    };
  }, [metric, chart.data, usual.data]);
  return { sparks, question: chart };
}

/** Bytes a day of each target, as last worked out. */
export function useCosts() {
  const cost = useQuery({ ...fleet.cost(), staleTime: 60_000 });
  const costs = useMemo((): Costs => new Map((cost.data?.targets ?? []).map((one) => [one.id, one.bytesADay])), [cost.data]);
  return { costs, question: cost };
}
