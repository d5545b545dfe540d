import type { ReactNode } from 'react';
import type { Check } from '../../api/types';
import { many } from '../../ui/format';
import { partnerLine } from './other-fields';

type Asks = Check['asks'];
export type Kind = Asks['kind'];

export const KINDS: Record<Kind, string> = {
  http: 'HTTP',
  tcp: 'TCP',
  tls: 'certificate',
  dns: 'DNS',
  ping: 'ping',
  sql: 'database',
  mail: 'letters',
  replication: 'replication',
};

/** What kind it is, in a few words. */
export const kindWords = (asks: Asks): string =>
  KINDS[asks.kind] + (asks.kind === 'http' && asks.steps.length > 1 ? `, ${many(asks.steps.length, 'step')}` : '');

const MONO = 'font-mono text-[12.5px] break-all';

/** What is asked, and what is expected of the answer. */
export function Asked({ asks }: { asks: Asks }) {
  if (asks.kind === 'tcp')
    return (
      <One address={`${asks.host}:${asks.port}`} expects={asks.expects || null} other="a connection">
        {asks.send && <span className="block text-[13px] text-muted">sends {asks.send}</span>}
      </One>
    );
  if (asks.kind === 'tls')
    return (
      <One
        address={`${asks.host}:${asks.port ?? 443}`}
        expects={null}
        other={`a certificate for ${asks.name || asks.host}, ${asks.mayBeOurs ? 'whoever signed it' : 'which somebody vouches for'}`}
      />
    );
  if (asks.kind === 'ping')
    return (
      <One
        address={`${asks.count ?? 5} echoes of ${asks.host}`}
        expects={null}
        other={`at most ${Math.round(100 * (asks.mostLoss ?? 0.2))} % lost`}
      />
    );
  if (asks.kind === 'dns')
    return (
      <One
        address={`${asks.type ?? 'A'} of ${asks.name}`}
        expects={asks.expects && asks.expects.length > 0 ? asks.expects.join(', ') : null}
        other="an answer, the same of all"
      >
        <span className="block text-[13px] text-muted">
          asks {asks.servers && asks.servers.length > 0 ? asks.servers.join(', ') : 'the name servers of the place'}
        </span>
      </One>
    );
  if (asks.kind === 'sql')
    return (
      <One
        address={`${asks.engine}://${asks.user}@${asks.host}${asks.port ? `:${asks.port}` : ''}/${asks.database ?? ''}`}
        expects={asks.expects || null}
        other="a row"
      >
        <code className="block text-[12.5px] break-words whitespace-pre-wrap">{asks.query}</code>
      </One>
    );
  if (asks.kind === 'mail')
    return (
      <One
        address={`a letter from ${asks.from} to ${asks.to} by ${asks.host}${asks.port ? `:${asks.port}` : ''}`}
        expects={null}
        other={`that it arrives within ${asks.seenWithinSeconds ?? 45} s`}
      >
        <span className="block text-[13px] text-muted">
          looked for in {(asks.mailbox ?? 'imap').toUpperCase()} {asks.mailboxUser} at {asks.mailboxHost}
        </span>
      </One>
    );
  if (asks.kind === 'replication')
    return (
      <One
        address={`${asks.engine}://${asks.user}@${asks.host}${asks.port ? `:${asks.port}` : ''}`}
        expects={null}
        other={`each at most ${asks.mostSeconds ?? 60} s behind`}
      >
        <span className="block text-[13px] text-muted">followed by {asks.partners.map(partnerLine).join(', ')}</span>
      </One>
    );
  return (
    <ol className="space-y-2">
      {asks.steps.map((step, i) => (
        <li key={i}>
          {asks.steps.length > 1 && <b>{step.name || i + 1} </b>}
          <One address={`${step.method ?? 'GET'} ${step.url}`} expects={step.expects || null} other="a status of success">
            {step.values && step.values.length > 0 && (
              <span className="block text-[13px] text-muted">keeps {step.values.map((value) => value.metric).join(', ')}</span>
            )}
          </One>
        </li>
      ))}
    </ol>
  );
}

type OneProps = { address: string; expects: string | null; other: string; children?: ReactNode };
function One({ address, expects, other, children }: OneProps) {
  return (
    <>
      <span className={MONO}>{address}</span>
      <span className="block text-[13px] break-words text-muted">
        expected: {expects === null ? other : <code>{expects}</code>}
      </span>
      {children}
    </>
  );
}
