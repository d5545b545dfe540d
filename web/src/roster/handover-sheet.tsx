import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { ShownHandover } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet, TextArea } from '../ui/controls';
import { dayClock } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { Crystal } from '../ui/severity';
import { useMay, useZone } from '../ui/session';

/** What is handed over when the shift ends: a note, and what is open. */
export function HandoverSheet({ id }: { id: number }) {
  const handover = useQuery(asked.handover(id));
  return (
    <Sheet label="Handover note" className="p-4">
      <h2>Handover note</h2>
      <Answered of={handover} what="the handover note" className="py-2">
        {(data) => <Note key={data.version ?? 0} id={id} handover={data} />}
      </Answered>
    </Sheet>
  );
}

function Note({ id, handover }: { id: number; handover: ShownHandover }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const [text, setText] = useState(handover.text ?? '');
  const [fault, setFault] = useState<string | null>(null);
  const keep = useMutation({
    mutationFn: () => send('put', '/api/rosters/{id}/handover', { path: { id }, body: { text, version: handover.version } }),
    onSuccess: (kept) => {
      queries.setQueryData(asked.handover(id).queryKey, kept);
      toast('It goes with the handover.');
      setFault(null);
    },
    onError: (error) => (error instanceof ApiError && error.status < 500 ? setFault(error.message) : sayFailure(error)),
  });
  return (
    <>
      <p className="text-muted">
        {handover.to ? `Goes to ${handover.to} at ${dayClock(handover.goesAt, zone)} with what is open.` : 'Nobody takes over.'}
        {handover.by && handover.at !== null && ` Written by ${handover.by}, ${dayClock(handover.at, zone)}.`}
      </p>
      {may('answer incidents') ? (
        <>
          <TextArea
            className="mt-2"
            rows={3}
            aria-label="Handover note"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          {fault !== null && (
            <p role="alert" className="text-critical">
              {fault}
            </p>
          )}
          {text !== (handover.text ?? '') && (
            <div className="mt-1 flex justify-end">
              <Button look="accent" disabled={keep.isPending} onClick={() => keep.mutate()}>
                Keep the note
              </Button>
            </div>
          )}
        </>
      ) : (
        <p className="mt-2 whitespace-pre-wrap">{handover.text}</p>
      )}
      <ul className="mt-2">
        {handover.open.map((one) => (
          <li key={one.id} className="flex items-baseline gap-2 py-0.5">
            <Crystal severity={one.severity} />
            <Link to="/incidents/$id" params={{ id: String(one.id) }} className="min-w-0 hover:underline">
              {one.title}
              {one.acknowledgedBy && <span className="text-muted">, {one.acknowledgedBy} has it</span>}
            </Link>
          </li>
        ))}
        {handover.open.length === 0 && <li className="text-muted">Nothing is open.</li>}
      </ul>
    </>
  );
}
