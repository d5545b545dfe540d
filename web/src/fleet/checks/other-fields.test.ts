import { describe, expect, it } from 'vitest';
import { asksOf, otherOf, partnerLine, partnersOf } from './other-fields';

describe('partners, a line each', () => {
  it.each([
    ['skarn = db-2', { name: 'skarn', host: 'db-2', port: null }],
    ['skarn = db-2:3307', { name: 'skarn', host: 'db-2', port: 3307 }],
    ['db-2', { name: 'db-2', host: 'db-2', port: null }],
    ['db-2:3307', { name: 'db-2', host: 'db-2', port: 3307 }],
    ['north shore = 192.0.2.7', { name: 'north shore', host: '192.0.2.7', port: null }],
    ['skarn = [2001:db8::7]:3307', { name: 'skarn', host: '2001:db8::7', port: 3307 }],
  ])('%s', (line, partner) => {
    expect(partnersOf(line)).toEqual([partner]);
    expect(partnersOf(partnerLine(partner))).toEqual([partner]);
  });

  it('passes over what is empty, and keeps the order', () => {
    expect(partnersOf('\n b \n\n a = x\n').map((one) => one.name)).toEqual(['b', 'a']);
  });
});

describe('what is asked, into the form and back', () => {
  it.each([
    {
      kind: 'mail' as const,
      host: 'mail-1',
      port: 2525,
      encryption: 'tls' as const,
      user: 'crew',
      from: 'a@saltmarsh.example',
      to: 'b@saltmarsh.example',
      mailbox: 'pop3' as const,
      mailboxHost: 'mail-2',
      mailboxPort: null,
      mailboxUser: 'b',
      mailboxEncryption: 'none' as const,
      mayBeOurs: true,
      patienceSeconds: 3,
      seenWithinSeconds: 20,
    },
    {
      kind: 'replication' as const,
      engine: 'postgresql' as const,
      host: 'db-1',
      port: null,
      user: 'watcher',
      database: 'line',
      partners: [{ name: 'skarn', host: 'db-2', port: 5433 }],
      mostSeconds: 5,
      patienceSeconds: 2,
    },
  ])('$kind', (asks) => {
    expect(asksOf(asks.kind, otherOf(asks))).toEqual(asks);
  });
});
