import { Field, Input, Select } from '../../ui/controls';
import { Password, type Passwords } from './database-login';
import type { Other } from './other-fields';
import { Patience, Seconds } from './patience';

const ENCRYPTIONS = { none: 'none', starttls: 'after the greeting', tls: 'from the beginning' } as const;

type Props = { value: Other; secrets: Passwords; error: string | undefined; onChange: (part: Partial<Other>) => void };
type TextName = 'host' | 'port' | 'user' | 'from' | 'to' | 'mailboxHost' | 'mailboxPort' | 'mailboxUser';

/** A letter on its way: whom it is handed to, and where it is looked for. */
export function MailFields({ value, secrets, error, onChange }: Props) {
  const text = (name: TextName, label: string, help?: string) => (
    <Field label={label} help={help}>
      <Input
        value={value[name]}
        autoComplete="off"
        spellCheck={false}
        onChange={(event) => onChange({ [name]: event.target.value })}
      />
    </Field>
  );
  const encryption = (name: 'encryption' | 'mailboxEncryption', label: string) => (
    <Field label={label}>
      <Select value={value[name]} onChange={(event) => onChange({ [name]: event.target.value as Other['encryption'] })}>
        {Object.entries(ENCRYPTIONS).map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </Select>
    </Field>
  );
  const row = 'grid grid-cols-[1fr_7rem_12rem] gap-3 max-sm:grid-cols-1';
  const pair = 'grid grid-cols-2 gap-3 max-sm:grid-cols-1';
  return (
    <>
      <fieldset className="space-y-2 rounded-lg border border-line p-3">
        <legend className="px-1 font-medium">A letter is handed to</legend>
        <div className={row}>
          {text('host', 'Mail server', 'such as mail-1')}
          {text('port', 'Port', value.encryption === 'tls' ? 'empty: 465' : value.user === '' ? 'empty: 25' : 'empty: 587')}
          {encryption('encryption', 'Encryption')}
        </div>
        <div className={pair}>
          {text('from', 'From', 'such as desk@saltmarsh.example')}
          {text('to', 'To', 'the address of the mailbox below')}
          {text('user', 'User', 'empty: it takes letters from anybody')}
          {value.user !== '' && <Password label="Password" name="password" secrets={secrets} error={error} />}
        </div>
      </fieldset>
      <fieldset className="space-y-2 rounded-lg border border-line p-3">
        <legend className="px-1 font-medium">And looked for in</legend>
        <div className="grid grid-cols-[7rem_1fr_7rem_12rem] gap-3 max-sm:grid-cols-1">
          <Field label="Read by">
            <Select value={value.mailbox} onChange={(event) => onChange({ mailbox: event.target.value as Other['mailbox'] })}>
              <option value="imap">IMAP</option>
              <option value="pop3">POP3</option>
            </Select>
          </Field>
          {text('mailboxHost', 'Mailbox server')}
          {text('mailboxPort', 'Port', 'empty: the usual')}
          {encryption('mailboxEncryption', 'Encryption')}
        </div>
        <div className={pair}>
          {text('mailboxUser', 'User', 'a mailbox of its own is best; letters of others are not touched')}
          <Password label="Password" name="mailbox_password" secrets={secrets} error={error} />
        </div>
      </fieldset>
      <div className="grid grid-cols-[1fr_auto] items-start gap-3 max-sm:grid-cols-1">
        <Seconds
          label="Arrives within"
          help="seconds; no longer than until the next letter is sent"
          className="max-w-40"
          least={1}
          most={600}
          value={value.seenWithinSeconds}
          onChange={(seenWithinSeconds) => onChange({ seenWithinSeconds })}
        />
        <Patience value={value} help="seconds, each of the two" onChange={onChange} />
      </div>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={value.mayBeOurs} onChange={(event) => onChange({ mayBeOurs: event.target.checked })} />
        nobody need vouch for their certificates: they are signed by ourselves
      </label>
    </>
  );
}
