import { Field, Input, TextArea } from '../../ui/controls';
import { DatabaseLogin, type Passwords } from './database-login';
import type { Other } from './other-fields';
import { Patience } from './patience';

type Props = { value: Other; secrets: Passwords; error: string | undefined; onChange: (part: Partial<Other>) => void };

/** A database: where, as whom, and the query. */
export function SqlFields({ value, secrets, error, onChange }: Props) {
  return (
    <fieldset className="space-y-2 rounded-lg border border-line p-3">
      <legend className="px-1 font-medium">What is asked</legend>
      <DatabaseLogin value={value} server="Host" secrets={secrets} error={error} onChange={onChange} />
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
        <Patience value={value} onChange={onChange} />
      </div>
    </fieldset>
  );
}
