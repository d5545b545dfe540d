import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { read } from '../api/client';
import { metrics } from '../api/queries';
import { smallLook } from '../ui/controls';
import { sayFailure } from '../ui/say-failure';

/** Adds a label test to the formula, or splits it: sum or mean per label. */
export function FilterBar({
  metric,
  formula,
  onChange,
}: {
  metric: string;
  formula: string;
  onChange: (formula: string) => void;
}) {
  const labels = useQuery(metrics.labels(metric));
  const [label, setLabel] = useState('');
  const chosen = labels.data?.find((one) => one.name === label);
  const useful = (labels.data ?? []).filter((one) => one.count > 1);
  const edit = (what: Record<string, string>) =>
    void read('/api/formula/edited', { query: { formula, ...what } })
      .then((edited) => onChange(edited.formula))
      .catch(sayFailure);
  const filter = (value: string) => {
    edit({ metric, label, value });
    setLabel('');
  };
  const split = (name: string) => edit({ per: name });
  if (labels.error) return <span className="text-critical">Its labels could not be read: {labels.error.message}</span>;
  if (!labels.data) return null;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-1.5 text-muted">
        only
        <select
          aria-label="Label to filter by"
          value={label}
          onChange={(event) => setLabel(event.target.value)}
          className={smallLook}
        >
          <option value="">any label</option>
          {useful.map((one) => (
            <option key={one.name} value={one.name}>
              {one.name} ({one.count})
            </option>
          ))}
        </select>
      </label>
      {chosen && (
        <select aria-label={`Value of ${label}`} value="" onChange={(event) => filter(event.target.value)} className={smallLook}>
          <option value="">is …</option>
          {chosen.values.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      )}
      <label className="flex items-center gap-1.5 text-muted">
        mean per
        <select
          aria-label="Split by label"
          value={/\) per (\w+)$/.exec(formula)?.[1] ?? ''}
          onChange={(event) => split(event.target.value)}
          className={smallLook}
        >
          <option value="">series</option>
          {useful.map((one) => (
            <option key={one.name}>{one.name}</option>
          ))}
        </select>
      </label>
    </div>
  );
}
