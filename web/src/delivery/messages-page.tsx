import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { delivery } from '../api/queries';
import type { ShownMessage } from '../api/types';
import { Answered } from '../ui/answered';
import { Field, Select, Sheet } from '../ui/controls';
import { PersonSelect } from '../ui/form/person-select';
import { dayClock, tied } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useZone } from '../ui/session';
import { Crystal } from '../ui/severity';
import { useNow } from '../ui/use-now';
import { DeliveryTabs } from './delivery-tabs';
import { countWords, outcomeWords } from './message-words';

/** What people were told, and what became of each message: of whom and by which channel stands in the address. */
export function MessagesPage() {
  const navigate = useNavigate();
  const asked = useSearch({ from: '/signed-in/delivery/messages' });
  const { person, channel, before } = asked;
  const messages = useQuery(delivery.messages(asked));
  const channels = useQuery(delivery.channels());
  const set = (part: { person?: number; channel?: string }) =>
    void navigate({ to: '/delivery/messages', search: { person, channel, ...part }, replace: true, resetScroll: false });
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2 flex flex-wrap items-end gap-4">
        <div className="mr-auto">
          <PageHead title="Messages">{messages.data ? countWords(messages.data.messages) : 'What people were told.'}</PageHead>
        </div>
        <Field label="To" className="w-56">
          <PersonSelect value={person ?? null} nobody="anybody" onChange={(one) => set({ person: one ?? undefined })} />
        </Field>
        <Field label="By" className="w-44">
          <Select value={channel ?? ''} onChange={(event) => set({ channel: event.target.value || undefined })}>
            <option value="">any channel</option>
            {waysOf(channels.data?.channels.map((one) => one.name) ?? [], channel).map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Select>
        </Field>
      </div>
      <Sheet label="Messages" className="mt-3 overflow-x-auto">
        <Answered
          of={messages}
          what="the messages"
          className="px-4 py-3"
          isEmpty={(page) => page.messages.length === 0}
          empty={<p className="px-4 py-6 text-muted">{emptyWords(person !== undefined || channel !== undefined, before)}</p>}
        >
          {(page) => (
            <table className="w-full max-md:block">
              <thead className="max-md:hidden">
                <tr className="text-left text-muted">
                  <th className="px-4 py-2 font-normal">Due</th>
                  <th className="px-2 py-2 font-normal">To</th>
                  <th className="px-2 py-2 font-normal">By</th>
                  <th className="px-2 py-2 font-normal">Of</th>
                  <th className="px-4 py-2 font-normal">What became of it</th>
                </tr>
              </thead>
              <tbody className="max-md:block">
                {page.messages.map((one) => (
                  <Row key={one.id} message={one} />
                ))}
              </tbody>
            </table>
          )}
        </Answered>
        <Pages before={before} older={messages.data?.before ?? null} />
      </Sheet>
    </>
  );
}

/** Also one that is gone, while it is asked for. */
const waysOf = (names: string[], asked: string | undefined) =>
  asked === undefined || names.includes(asked) ? names : [...names, asked];

const emptyWords = (isNarrowed: boolean, before: number | undefined) =>
  before !== undefined
    ? 'Nothing is older.'
    : isNarrowed
      ? 'Nothing was sent to them by that channel, as far back as incidents are kept.'
      : 'Nobody was told anything yet. Try an alert on Delivery to see who would be.';

/** On a phone these stand in one line, with a dot between. */
const SMALL = "py-1.5 whitespace-nowrap max-md:px-0 max-md:after:mx-1 max-md:after:content-['·']";

function Row({ message }: { message: ShownMessage }) {
  const zone = useZone();
  const now = useNow();
  const fails = message.status === 'failed' || (message.status === 'planned' && message.attempts > 0);
  return (
    <tr className="border-t border-line align-baseline max-md:block max-md:px-4 max-md:py-2 max-md:first:border-t-0">
      <td className={`px-4 text-muted ${SMALL}`}>{dayClock(message.dueAt, zone)}</td>
      <td className={`px-2 ${SMALL}`}>{message.person ?? 'whoever reads there'}</td>
      <td className={`px-2 max-md:after:hidden ${SMALL}`}>{message.channel}</td>
      <td className="max-w-96 px-2 py-1.5 max-md:block max-md:px-0">
        <span className="flex items-baseline gap-2">
          <span className="translate-y-0.5">
            <Crystal severity={message.severity} size={13} />
          </span>
          <span className="min-w-0">
            <Link to="/incidents/$id" params={{ id: String(message.incident) }} className="font-semibold hover:underline">
              {tied(message.title)}
            </Link>{' '}
            <span className="text-muted">
              {message.rehearsed && 'rehearsal, '}
              {message.of}
            </span>
          </span>
        </span>
      </td>
      <td
        className={`px-4 py-1.5 break-words max-md:block max-md:px-0 max-md:py-0 ${fails ? 'text-critical' : ''}`}
        title={message.answer}
      >
        {outcomeWords(message, now, zone)}
      </td>
    </tr>
  );
}

function Pages({ before, older }: { before: number | undefined; older: number | null }) {
  const { person, channel } = useSearch({ from: '/signed-in/delivery/messages' });
  if (before === undefined && older === null) return null;
  return (
    <p className="flex gap-4 border-t border-line px-4 py-2">
      {before !== undefined && (
        <Link to="/delivery/messages" search={{ person, channel }} className="underline">
          The newest
        </Link>
      )}
      {older !== null && (
        <Link to="/delivery/messages" search={{ person, channel, before: older }} className="underline">
          Older ones
        </Link>
      )}
    </p>
  );
}
