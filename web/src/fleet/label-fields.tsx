import { useState } from 'react';
import type { Labels } from '../api/types';
import { Button, Input } from '../ui/controls';

type Row = [name: string, value: string];
const labelsOf = (rows: Row[]): Labels =>
  Object.fromEntries(
    rows.filter(([name, value]) => name.trim() !== '' && value.trim() !== '').map(([name, value]) => [name.trim(), value.trim()]),
  );
const same = (a: Labels, b: Labels) => JSON.stringify(a) === JSON.stringify(b);

type Props = {
  value: Labels;
  /** Names that stand there to be filled in. */
  offered?: string[];
  error?: string;
  help?: string;
  onChange: (labels: Labels) => void;
};

/** Names and values in rows; half a label counts once it is whole. */
export function LabelFields({ value, offered = [], error, help, onChange }: Props) {
  const [rows, setRows] = useState<Row[]>(() => [
    ...Object.entries(value),
    ...offered.filter((name) => !(name in value)).map((name): Row => [name, '']),
  ]);
  // What was taken over from elsewhere stands there; what is being typed stays.
  const [seen, setSeen] = useState(value);
  if (seen !== value) {
    setSeen(value);
    if (!same(labelsOf(rows), value)) setRows(Object.entries(value));
  }
  const change = (next: Row[]) => {
    setRows(next);
    onChange(labelsOf(next));
  };
  const set = (at: number, part: Row) => change(rows.map((row, i) => (i === at ? part : row)));
  return (
    <fieldset aria-describedby={error || help ? 'labels-note' : undefined}>
      <legend className="mb-1 font-medium">Labels</legend>
      <div className="space-y-1.5">
        {rows.map(([name, text], i) => (
          <div key={i} className="grid grid-cols-[1fr_1.4fr_auto] gap-2">
            <Input aria-label={`Name of label ${i + 1}`} value={name} onChange={(event) => set(i, [event.target.value, text])} />
            <Input aria-label={`Value of label ${i + 1}`} value={text} onChange={(event) => set(i, [name, event.target.value])} />
            <Button
              look="quiet"
              aria-label={`Take label ${name || i + 1} away`}
              onClick={() => change(rows.filter((_, at) => at !== i))}
            >
              ×
            </Button>
          </div>
        ))}
      </div>
      <button type="button" className="mt-1 text-muted hover:text-ink" onClick={() => setRows([...rows, ['', '']])}>
        + another label
      </button>
      {error ? (
        <p id="labels-note" role="alert" className="text-critical">
          {error}
        </p>
      ) : (
        help && (
          <p id="labels-note" className="text-[13px] text-muted">
            {help}
          </p>
        )
      )}
    </fieldset>
  );
}
