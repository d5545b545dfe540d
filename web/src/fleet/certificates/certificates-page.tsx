import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { fleet } from '../../api/queries';
import type { Certificates } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Input, Sheet } from '../../ui/controls';
import { dayClock, many } from '../../ui/format';
import { hasWords } from '../../ui/has-words';
import { PageHead } from '../../ui/page-head';
import { useZone } from '../../ui/session';
import { HUES } from '../../ui/severity';
import { useNow } from '../../ui/use-now';
import { FleetTabs } from '../fleet-tabs';
import { pageOf } from '../kinds';
import { DAY_MS, certificatesSentence, endingOf, leftWords } from './certificate-words';

type Row = Certificates['certificates'][number];
const SHOWN_DAYS = 90;

/** Every certificate that anything shows, the one that ends first at the top. */
export function CertificatesPage() {
  const certificates = useQuery({ ...fleet.certificates(), refetchInterval: 60_000 });
  return (
    <>
      <FleetTabs />
      <Answered of={certificates} what="the certificates" className="py-10">
        {(data) => <Listed data={data} />}
      </Answered>
    </>
  );
}

function Listed({ data }: { data: Certificates }) {
  const now = useNow();
  const [find, setFind] = useState('');
  const fits = hasWords(find);
  const shown = data.certificates.filter((row) =>
    fits(`${row.name} ${row.file} ${row.subject} ${row.issuer} ${row.for}`.toLowerCase()),
  );
  const sentence = certificatesSentence(data, now);
  return (
    <>
      <PageHead title="Certificates" means={sentence}>
        {sentence} <span className="font-normal text-muted">{data.more > 0 && `${data.more} more end later.`}</span>
      </PageHead>
      {data.unread.length > 0 && (
        <p role="status" className="mt-3 rounded-lg border border-minor/40 bg-sheet px-3 py-2 break-words">
          No certificate could be read from {many(data.unread.length, 'file')}: {data.unread.slice(0, 5).join(', ')}
        </p>
      )}
      {data.certificates.length === 0 ? (
        <Sheet className="mt-4 p-6">
          <p>
            A check over HTTPS or of a certificate brings those that the server shows. Those in files of a machine come with its
            agent: <code className="font-mono text-[12.5px]">bin/olivine agent --certificates=/etc/ssl/site</code>.
          </p>
        </Sheet>
      ) : (
        <>
          <Input
            type="search"
            aria-label="Search certificates"
            placeholder="Search names, files, issuers"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            className="mt-3 max-w-72"
          />
          <Sheet className="mt-3 overflow-x-auto" label="Certificates">
            <table className="w-full text-left">
              <thead>
                <tr className="border-b border-line text-muted">
                  <th className="px-3 py-2 font-normal" scope="col">
                    ends
                  </th>
                  <th className="px-3 py-2 font-normal" scope="col">
                    for
                  </th>
                  <th className="px-3 py-2 font-normal" scope="col">
                    vouched for by
                  </th>
                  <th className="px-3 py-2 font-normal" scope="col">
                    where
                  </th>
                </tr>
              </thead>
              <tbody className="divide-y divide-line">
                {shown.map((row) => (
                  <Line key={`${row.target} ${row.file} ${row.subject} ${row.issuer} ${row.for}`} row={row} now={now} />
                ))}
              </tbody>
            </table>
          </Sheet>
          {shown.length === 0 && <p className="mt-2 text-muted">No certificate has these words.</p>}
        </>
      )}
    </>
  );
}

function Line({ row, now }: { row: Row; now: number }) {
  const zone = useZone();
  const ending = endingOf(row, now);
  const share = Math.min(1, Math.max(0, (row.endsAt - now) / (SHOWN_DAYS * DAY_MS)));
  const hue = ending === 'ended' ? HUES.critical : ending === 'soon' ? HUES.minor : 'var(--color-accent)';
  return (
    <tr className="align-top">
      <td className="px-3 py-2 whitespace-nowrap">
        <span className={ending === 'ended' ? 'font-semibold text-critical' : ending === 'soon' ? 'font-semibold' : ''}>
          {leftWords(row, now)}
        </span>
        <span className="block text-[13px] text-muted">{dayClock(row.endsAt, zone)}</span>
        <span aria-hidden className="mt-1 block h-1 w-24 rounded bg-future">
          <span className="block h-1 rounded" style={{ width: `${100 * share}%`, background: hue }} />
        </span>
      </td>
      <td className="px-3 py-2 break-words">
        {row.subject}
        {row.for !== row.subject && row.for !== '' && <span className="block text-[13px] text-muted">{row.for}</span>}
      </td>
      <td className="px-3 py-2 break-words">{row.issuer === row.subject ? 'itself' : row.issuer}</td>
      <td className="px-3 py-2 break-words">
        <Link to={pageOf(row)} params={{ id: String(row.target) }} className="hover:underline">
          {row.name}
        </Link>
        {row.file && <span className="block font-mono text-[12.5px] break-all text-muted">{row.file}</span>}
      </td>
    </tr>
  );
}
