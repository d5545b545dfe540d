import { Button, Input } from '../ui/controls';

export type LabelRow = [name: string, value: string];
export const labelBody = (rows: LabelRow[]) =>
  Object.fromEntries(
    rows.filter(([name, value]) => name.trim() !== '' && value.trim() !== '').map(([name, value]) => [name.trim(), value.trim()]),
  );

/** Names and values in rows; an empty one at the end takes the next. */
export function LabelFields({
  rows,
  error,
  help,
  onChange,
}: {
  rows: LabelRow[];
  error?: string;
  help?: string;
  onChange: (rows: LabelRow[]) => void;
}) {
  const set = (at: number, part: LabelRow) => onChange(rows.map((row, i) => (i === at ? part : row)));
  return (
    <fieldset>
      <legend className="mb-1 font-medium">Labels</legend>
      <div className="space-y-1.5">
        {rows.map(([name, value], i) => (
          <div key={i} className="grid grid-cols-[1fr_1.4fr_auto] gap-2">
            <Input aria-label={`Name of label ${i + 1}`} value={name} onChange={(event) => set(i, [event.target.value, value])} />
            <Input
              aria-label={`Value of label ${i + 1}`}
              value={value}
              onChange={(event) => set(i, [name, event.target.value])}
            />
            <Button
              look="quiet"
              aria-label={`Take label ${name || i + 1} away`}
              onClick={() => onChange(rows.filter((_, at) => at !== i))}
            >
              ×
            </Button>
          </div>
        ))}
      </div>
      <button type="button" className="mt-1 text-muted hover:text-ink" onClick={() => onChange([...rows, ['', '']])}>
        + another label
      </button>
      {error ? (
        <p role="alert" className="text-critical">
          {error}
        </p>
      ) : (
        help && <p className="text-[13px] text-muted">{help}</p>
      )}
    </fieldset>
  );
}
