import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { Button, Input } from '../ui/controls';

/** Single quotes hold all but themselves. */
const quoted = (text: string) => `'${text.replaceAll("'", "'\\''")}'`;

/** How a job hands its readings in: nothing is added here, the first time does that. */
export function HandIn({ onDone }: { onDone: () => void }) {
  const [name, setName] = useState('copy to skarn');
  const address = `${location.origin}/api/pushed/${encodeURIComponent(name)}`;
  const command = [
    `curl -sS -X POST ${quoted(address)} \\`,
    `  -H "Authorization: Bearer $OLIVINE_TOKEN" -H 'Content-Type: application/json' \\`,
    `  -d '{"rows_copied": 1200, "copied_bytes": {"value": 3000000, "unit": "bytes", "labels": {"disk": "a"}}}'`,
  ].join('\n');
  return (
    <div className="space-y-3">
      <p>
        The job says at its end what it counted, as JSON or as OpenMetrics text. It holds for a day, or as many{' '}
        <span className="font-mono text-[12.5px]">?seconds=</span> as it says, until the next run hands in other readings. DELETE
        at the same address ends them. The first time, a source of that name appears in Fleet.
      </p>
      <div>
        <label htmlFor="handed-in-as" className="mb-1 block font-semibold">
          Name
        </label>
        <Input
          id="handed-in-as"
          value={name}
          onChange={(event) => setName(event.target.value)}
          autoComplete="off"
          maxLength={120}
        />
      </div>
      <pre
        className="rounded-lg break-all whitespace-pre-wrap bg-future p-3 font-mono text-[12px] select-all"
        tabIndex={0}
        aria-label="Command"
      >
        {command}
      </pre>
      <p className="text-muted">
        The token is made in{' '}
        <Link to="/setup" className="underline" onClick={onDone}>
          Setup
        </Link>
        , for <span className="font-semibold">readings</span>: such a token hands in, and can do and read nothing else.
      </p>
      <div className="flex justify-end">
        <Button onClick={onDone}>Close</Button>
      </div>
    </div>
  );
}
