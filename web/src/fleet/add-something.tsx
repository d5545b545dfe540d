import { Link, useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { KINDS, type Kind } from './checks/asked';
import { CheckForm } from './checks/check-form';
import { HandIn } from './hand-in';
import { JobForm } from './jobs/job-form';
import { TargetForm } from './target-form';

type Choice = Kind | 'metrics' | 'job' | 'pushed';
const CHOICES: [Choice, string, string][] = [
  [
    'http',
    'Whether a page answers, and says what it should',
    'HTTP, one or several steps: a shop that opens, a login, a number on a page',
  ],
  ['tcp', 'Whether a port answers', 'TCP: connect, send something, expect something'],
  ['tls', 'How long a certificate lasts', 'TLS: whom it is for, who vouches for it, how strong it is'],
  ['dns', 'What name servers say', 'DNS: whether they answer, agree, and say what they should'],
  ['ping', 'How good the way to a host is', 'ping: loss, latency, jitter, and how a voice call would sound over it'],
  ['sql', 'What a database says', 'SQL: one row of a query that reads, from MariaDB or PostgreSQL; its numbers become readings'],
  [
    'mail',
    'Whether letters arrive',
    'mail: one is handed to a mail server and looked for in its mailbox, and how long that took',
  ],
  [
    'replication',
    'Whether databases keep up',
    'replication: a source and those that follow it, how far each is behind; MariaDB or PostgreSQL',
  ],
  ['job', 'Whether a job ran', 'a backup, an import: it says itself when it begins and ends, and is missed when it does not'],
  [
    'pushed',
    'What a short job counted',
    'rows copied, files kept: the job is over before anybody could ask, so it hands them in itself',
  ],
  ['metrics', 'What a program says of itself', 'an address that shows its metrics as text, such as http://web-1:9105/metrics'],
];

/** Those with much to write in a row. */
const WIDE: Choice[] = ['http', 'mail'];

function titleOf(choice: Choice | null): string {
  if (choice === null) return 'What do you want to know?';
  if (choice === 'metrics') return 'Add a target';
  if (choice === 'pushed') return 'Hand readings in';
  return choice === 'job' ? 'Add a job' : `Add a check: ${KINDS[choice]}`;
}

/** Adding begins with what somebody wants to know, and leads to the kind that tells it. */
export function AddSomething() {
  const [open, setOpen] = useState(false);
  const [choice, setChoice] = useState<Choice | null>(null);
  const navigate = useNavigate();
  const change = (next: boolean) => {
    setOpen(next);
    if (!next) setChoice(null);
  };
  return (
    <DialogBox
      open={open}
      onOpenChange={change}
      title={titleOf(choice)}
      trigger={<Button look="accent">Add …</Button>}
      wide={choice === null || WIDE.includes(choice) ? 760 : 560}
    >
      {choice === null && (
        <p className="mb-3">
          <Link to="/fleet/recipes" className="underline" onClick={() => change(false)}>
            Recipes
          </Link>{' '}
          know how databases, web servers, queues and more are asked, and which rules fit.
        </p>
      )}
      {choice === null && (
        <ul className="grid grid-cols-2 gap-2 max-sm:grid-cols-1">
          {CHOICES.map(([key, name, help]) => (
            <li key={key} className="relative rounded-lg border border-line px-3 py-2 hover:bg-accent-soft">
              <button
                type="button"
                aria-describedby={`add-${key}`}
                className="text-left font-semibold after:absolute after:inset-0"
                onClick={() => setChoice(key)}
              >
                {name}
              </button>
              <span id={`add-${key}`} className="block text-[13px] text-muted">
                {help}
              </span>
            </li>
          ))}
        </ul>
      )}
      {choice !== null && choice !== 'metrics' && choice !== 'job' && choice !== 'pushed' && (
        <CheckForm
          kind={choice}
          onDone={(saved) => {
            change(false);
            if (saved) void navigate({ to: '/fleet/checks/$id', params: { id: String(saved.id) } });
          }}
        />
      )}
      {choice === 'job' && (
        <JobForm
          onDone={(saved) => {
            change(false);
            if (saved) void navigate({ to: '/fleet/jobs/$id', params: { id: String(saved.id) } });
          }}
        />
      )}
      {choice === 'pushed' && <HandIn onDone={() => change(false)} />}
      {choice === 'metrics' && <TargetForm onDone={() => change(false)} />}
    </DialogBox>
  );
}
