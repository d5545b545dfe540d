import type { Check } from '../../api/types';
import { Field, Input, Select, TextArea } from '../../ui/controls';
import type { Kind } from './asked';
import { valueLines, valuesOf } from './check-text';
import { Patience } from './patience';

type Asks = Check['asks'];
type Dns = Extract<Asks, { kind: 'dns' }>;
type Sql = Extract<Asks, { kind: 'sql' }>;
type Mail = Extract<Asks, { kind: 'mail' }>;
type Partner = Extract<Asks, { kind: 'replication' }>['partners'][number];
const TYPES = ['A', 'AAAA', 'CNAME', 'MX', 'NS', 'PTR', 'SOA', 'SRV', 'TXT', 'CAA'] as const;

/** What the kinds but HTTP are asked by, as the form has it; each uses some of it. */
export type Other = {
  host: string;
  port: string;
  send: string;
  expects: string;
  /** A line each. */
  values: string;
  name: string;
  mayBeOurs: boolean;
  type: NonNullable<Dns['type']>;
  servers: string;
  count: number;
  lostPercent: number;
  engine: Sql['engine'];
  user: string;
  database: string;
  query: string;
  from: string;
  to: string;
  encryption: NonNullable<Mail['encryption']>;
  mailbox: NonNullable<Mail['mailbox']>;
  mailboxHost: string;
  mailboxPort: string;
  mailboxUser: string;
  mailboxEncryption: NonNullable<Mail['mailboxEncryption']>;
  seenWithinSeconds: number;
  /** A line each. */
  partners: string;
  mostSeconds: number;
  patienceSeconds: number;
};

/** skarn = db-2:3307 */
export const partnerLine = ({ name, host, port }: Partner): string => {
  const address = port ? `${host.includes(':') ? `[${host}]` : host}:${port}` : host;
  return name === host ? address : `${name} = ${address}`;
};

/** What stands in the lines; a name that is not written is that of the host. */
export function partnersOf(lines: string): (Partner & { port: number | null })[] {
  return lines
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const [, name, address] = /^(?:(.*?)\s*=\s*)?(.*)$/.exec(line) ?? [];
      const [, host = '', port] = /^(\[[^\]]*]|[^:]*|[^:]*:[^:]*:.*?)(?::(\d{1,5}))?$/.exec(address ?? '') ?? [
        undefined,
        address,
      ];
      const bare = host.replace(/^\[(.*)]$/, '$1');
      return { name: name || bare, host: bare, port: port ? Number(port) : null };
    });
}

export function otherOf(asks: Asks | undefined): Other {
  const empty: Other = {
    host: '',
    port: '',
    send: '',
    expects: '',
    values: '',
    name: '',
    mayBeOurs: false,
    type: 'A',
    servers: '',
    count: 5,
    lostPercent: 20,
    engine: 'mariadb',
    user: '',
    database: '',
    query: '',
    from: '',
    to: '',
    encryption: 'starttls',
    mailbox: 'imap',
    mailboxHost: '',
    mailboxPort: '',
    mailboxUser: '',
    mailboxEncryption: 'tls',
    seenWithinSeconds: 45,
    partners: '',
    mostSeconds: 60,
    patienceSeconds: 5,
  };
  if (!asks || asks.kind === 'http') return empty;
  const patience = { patienceSeconds: asks.patienceSeconds ?? 5 };
  if (asks.kind === 'tcp')
    return {
      ...empty,
      ...patience,
      host: asks.host,
      port: String(asks.port),
      send: asks.send ?? '',
      expects: asks.expects ?? '',
      values: valueLines(asks.values),
    };
  if (asks.kind === 'tls')
    return {
      ...empty,
      ...patience,
      host: asks.host,
      port: String(asks.port ?? 443),
      name: asks.name ?? '',
      mayBeOurs: asks.mayBeOurs ?? false,
    };
  if (asks.kind === 'ping')
    return {
      ...empty,
      ...patience,
      host: asks.host,
      count: asks.count ?? 5,
      lostPercent: Math.round(100 * (asks.mostLoss ?? 0.2)),
    };
  if (asks.kind === 'sql')
    return {
      ...empty,
      ...patience,
      ...serverOf(asks),
      query: asks.query,
      expects: asks.expects ?? '',
    };
  if (asks.kind === 'mail')
    return {
      ...empty,
      ...patience,
      host: asks.host,
      port: asks.port ? String(asks.port) : '',
      encryption: asks.encryption ?? 'starttls',
      user: asks.user ?? '',
      from: asks.from,
      to: asks.to,
      mailbox: asks.mailbox ?? 'imap',
      mailboxHost: asks.mailboxHost,
      mailboxPort: asks.mailboxPort ? String(asks.mailboxPort) : '',
      mailboxUser: asks.mailboxUser,
      mailboxEncryption: asks.mailboxEncryption ?? 'tls',
      mayBeOurs: asks.mayBeOurs ?? false,
      seenWithinSeconds: asks.seenWithinSeconds ?? 45,
    };
  if (asks.kind === 'replication')
    return {
      ...empty,
      ...patience,
      ...serverOf(asks),
      partners: asks.partners.map(partnerLine).join('\n'),
      mostSeconds: asks.mostSeconds ?? 60,
    };
  const lists = { servers: (asks.servers ?? []).join(', '), expects: (asks.expects ?? []).join(', ') };
  return { ...empty, ...patience, ...lists, host: asks.name, type: asks.type ?? 'A' };
}

/** A database server, and as whom it is asked. */
const serverOf = ({ engine, host, port, user, database }: Pick<Sql, 'engine' | 'host' | 'port' | 'user' | 'database'>) => ({
  engine,
  host,
  port: port ? String(port) : '',
  user,
  database: database ?? '',
});

const portOf = (text: string): number | null => (text.trim() === '' ? null : Number(text));

const parts = (text: string): string[] => [
  ...new Set(
    text
      .split(',')
      .map((part) => part.trim())
      .filter((part) => part !== ''),
  ),
];

export function asksOf(kind: Exclude<Kind, 'http'>, of: Other): Exclude<Asks, { kind: 'http' }> {
  const { patienceSeconds } = of;
  const host = of.host.trim();
  if (kind === 'tcp')
    return {
      kind,
      host,
      port: Number(of.port),
      send: of.send,
      expects: of.expects.trim(),
      values: valuesOf(of.values),
      patienceSeconds,
    };
  if (kind === 'tls')
    return { kind, host, port: Number(of.port || 443), name: of.name.trim(), mayBeOurs: of.mayBeOurs, patienceSeconds };
  if (kind === 'ping') return { kind, host, count: of.count, mostLoss: of.lostPercent / 100, patienceSeconds };
  if (kind === 'sql') {
    const { engine, database, query } = of;
    const port = portOf(of.port);
    return { kind, engine, host, port, user: of.user.trim(), database, query, expects: of.expects.trim(), patienceSeconds };
  }
  if (kind === 'mail') {
    const { encryption, mailbox, mailboxEncryption, mayBeOurs, seenWithinSeconds } = of;
    return {
      kind,
      host,
      port: portOf(of.port),
      encryption,
      user: of.user.trim(),
      from: of.from.trim(),
      to: of.to.trim(),
      mailbox,
      mailboxHost: of.mailboxHost.trim(),
      mailboxPort: portOf(of.mailboxPort),
      mailboxUser: of.mailboxUser.trim(),
      mailboxEncryption,
      mayBeOurs,
      patienceSeconds,
      seenWithinSeconds,
    };
  }
  if (kind === 'replication') {
    const { engine, database, mostSeconds } = of;
    const partners = partnersOf(of.partners);
    return { kind, engine, host, port: portOf(of.port), user: of.user.trim(), database, partners, mostSeconds, patienceSeconds };
  }
  return { kind, name: host, type: of.type, servers: parts(of.servers), expects: parts(of.expects), patienceSeconds };
}

type Props = {
  kind: Exclude<Kind, 'http' | 'sql' | 'mail' | 'replication'>;
  value: Other;
  onChange: (part: Partial<Other>) => void;
};

/** A port, a certificate, or name servers. */
export function OtherFields({ kind, value, onChange }: Props) {
  const text = (name: 'host' | 'port' | 'send' | 'expects' | 'name' | 'servers', label: string, help: string, mono = false) => (
    <Field label={label} help={help}>
      <Input
        className={mono ? 'font-mono' : undefined}
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
      {kind === 'dns' ? (
        <>
          <div className="grid grid-cols-[1fr_8rem] gap-3">
            {text('host', 'Name to look up', 'such as shop.saltmarsh.example')}
            <Field label="Record">
              <Select value={value.type} onChange={(event) => onChange({ type: event.target.value as Other['type'] })}>
                {TYPES.map((type) => (
                  <option key={type}>{type}</option>
                ))}
              </Select>
            </Field>
          </div>
          {text('servers', 'Name servers', 'addresses with commas between; empty: those of the place')}
          {text('expects', 'Expected records', 'with commas between; empty: an answer is enough, the same of all', true)}
        </>
      ) : (
        <div className="grid grid-cols-[1fr_8rem] gap-3">
          {text('host', 'Host', 'such as mail-1')}
          {kind !== 'ping' && text('port', 'Port', kind === 'tls' ? 'empty: 443' : 'such as 2525')}
        </div>
      )}
      {kind === 'ping' && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Echoes" help="a fifth of a second apart, at most 20">
            <Input
              type="number"
              min={1}
              max={20}
              value={value.count}
              onChange={(event) => onChange({ count: Number(event.target.value) })}
            />
          </Field>
          <Field label="May be lost" help="percent of them">
            <Input
              type="number"
              min={0}
              max={100}
              value={value.lostPercent}
              onChange={(event) => onChange({ lostPercent: Number(event.target.value) })}
            />
          </Field>
        </div>
      )}
      {kind === 'tcp' && text('send', 'Sends', 'or nothing; \\r\\n stands for the end of a line', true)}
      {kind === 'tcp' && text('expects', 'Expected', 'such as "220 "; empty: a connection is enough', true)}
      {kind === 'tcp' && (
        <Field
          label="Numbers to keep"
          help="a line each: cache_memory_bytes = text used_memory:*, the star stands for the number"
        >
          <TextArea
            className="min-h-9 font-mono text-[12.5px]"
            rows={Math.min(8, Math.max(1, value.values.split('\n').length))}
            value={value.values}
            spellCheck={false}
            onChange={(event) => onChange({ values: event.target.value })}
          />
        </Field>
      )}
      {kind === 'tls' && text('name', 'For the name', 'whom the certificate must be for; empty: the host')}
      {kind === 'tls' && (
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={value.mayBeOurs} onChange={(event) => onChange({ mayBeOurs: event.target.checked })} />
          nobody need vouch for it: it is signed by ourselves
        </label>
      )}
      <Patience value={value} onChange={onChange} />
    </fieldset>
  );
}
