import { Field, Input, Select, TextArea } from '../../ui/controls';
import type { Other } from './other-fields';

const ENGINES = { mariadb: 'MariaDB', postgresql: 'PostgreSQL' } as const;

type Props = {
  value: Other;
  /** Whether a password is kept already, which is shown to nobody. */
  hasPassword: boolean;
  password: string;
  error: string | undefined;
  onChange: (part: Partial<Other>) => void;
  onPassword: (password: string) => void;
};

/** A database: where, as whom, and the query. */
export function SqlFields({ value, hasPassword, password, error, onChange, onPassword }: Props) {
  const text = (name: 'host' | 'port' | 'user' | 'database', label: string, help?: string) => (
    <Field label={label} help={help}>
      <Input
        value={value[name]}
        autoComplete="off"
        spellCheck={false}
        onChange={(event) => onChange({ [name]: event.target.value })}
      />
    </Field>
  );
  return (
    <fieldset className="space-y-2 rounded-lg border border-line p-3">
      <legend className="px-1 font-medium">What is asked</legend>
      <div className="grid grid-cols-[9rem_1fr_7rem] gap-3 max-sm:grid-cols-1">
        <Field label="Database server">
          <Select value={value.engine} onChange={(event) => onChange({ engine: event.target.value as Other['engine'] })}>
            {Object.entries(ENGINES).map(([engine, name]) => (
              <option key={engine} value={engine}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        {text('host', 'Host', 'such as db-1')}
        {text('port', 'Port', value.engine === 'mariadb' ? 'empty: 3306' : 'empty: 5432')}
      </div>
      <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
        {text('database', 'Database')}
        {text('user', 'User', 'one that may read, and nothing else')}
        <Field label="Password" help={hasPassword ? 'empty: as it is' : undefined} error={error}>
          <Input
            type="password"
            value={password}
            autoComplete="new-password"
            onChange={(event) => onPassword(event.target.value)}
          />
        </Field>
      </div>
      <Field
        label="Query"
        help="Each number of its first row becomes a reading, named by its column; _seconds, _bytes and _ratio give its unit."
      >
        <TextArea
          className="min-h-20 font-mono text-[12.5px]"
          value={value.query}
          spellCheck={false}
          placeholder="SELECT COUNT(*) AS waiting_tickets FROM ticket WHERE state = 'waiting'"
          onChange={(event) => onChange({ query: event.target.value })}
        />
      </Field>
      <div className="grid grid-cols-[1fr_8rem] gap-3">
        <Field label="Expected" help="such as json /waiting_tickets < 500; empty: a row is enough">
          <Input
            className="font-mono"
            value={value.expects}
            autoComplete="off"
            spellCheck={false}
            onChange={(event) => onChange({ expects: event.target.value })}
          />
        </Field>
        <Field label="Gives up after" help="seconds">
          <Input
            type="number"
            min={0.1}
            max={60}
            step="any"
            value={value.patienceSeconds}
            onChange={(event) => onChange({ patienceSeconds: Number(event.target.value) })}
          />
        </Field>
      </div>
    </fieldset>
  );
}
