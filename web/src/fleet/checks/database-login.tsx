import { Field, Input, Select } from '../../ui/controls';
import type { Other } from './other-fields';

const ENGINES = { mariadb: 'MariaDB', postgresql: 'PostgreSQL' } as const;

type Props = {
  value: Other;
  server: string;
  secrets: Passwords;
  error: string | undefined;
  onChange: (part: Partial<Other>) => void;
};

/** The passwords of a check: which it has already, shown to nobody, and what is written over them. */
export type Passwords = {
  isKept: (name: string) => boolean;
  written: (name: string) => string;
  write: (name: string, value: string) => void;
};

/** A database server, and as whom it is asked. */
export function DatabaseLogin({ value, server, secrets, error, onChange }: Props) {
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
    <>
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
        {text('host', server, 'such as db-1')}
        {text('port', 'Port', value.engine === 'mariadb' ? 'empty: 3306' : 'empty: 5432')}
      </div>
      <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
        {text('database', 'Database')}
        {text('user', 'User', 'one that may read, and nothing else')}
        <Password label="Password" name="password" secrets={secrets} error={error} />
      </div>
    </>
  );
}

type PasswordProps = { label: string; name: string; secrets: Passwords; error?: string; help?: string };

export function Password({ label, name, secrets, error, help }: PasswordProps) {
  return (
    <Field label={label} help={secrets.isKept(name) ? 'empty: as it is' : help} error={error}>
      <Input
        type="password"
        value={secrets.written(name)}
        autoComplete="new-password"
        onChange={(event) => secrets.write(name, event.target.value)}
      />
    </Field>
  );
}
