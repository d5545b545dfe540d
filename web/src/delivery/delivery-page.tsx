import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ChannelState, ShownChannels, FailedMessage } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';
import { goesWords, stateWords, waysWords } from './channel-words';
import { PathsSheet } from './paths-sheet';
import { TrySheet } from './try-sheet';
import { WebhooksDialog } from './webhooks-dialog';

/** Who hears, how and when: which path answers, by which channels, and what was given up. */
export function DeliveryPage() {
  const channels = useQuery(delivery.channels());
  const may = useMay();
  return (
    <>
      <div className="mt-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <PageHead title="Delivery">
          {channels.data ? waysWords(channels.data.channels) : 'How messages reach people.'}{' '}
          {channels.data && <span className="font-normal text-muted">{goesWords(channels.data.channels)}</span>}
        </PageHead>
        {may('keep settings') && (
          <div className="ml-auto">
            <WebhooksDialog />
          </div>
        )}
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,5fr)_minmax(0,3fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          <TrySheet />
          <PathsSheet />
        </div>
        <div className="space-y-4">
          <Answered of={channels} what="the channels">
            {(data) => <Shown data={data} />}
          </Answered>
        </div>
      </div>
    </>
  );
}

function Shown({ data }: { data: ShownChannels }) {
  const inOrder = data.channels.filter((one) => one.standsIn);
  const others = data.channels.filter((one) => !one.standsIn);
  return (
    <>
      <Sheet label="Channels" className="p-4">
        <h2>One after the other</h2>
        <p className="mb-2 text-muted">
          Where a channel does not take a message, the next one is tried at once, while the first one is tried on.
        </p>
        <ol className="divide-y divide-line border-y border-line">
          {inOrder.map((one, place) => (
            <ChannelRow key={one.name} channel={one} place={place + 1} />
          ))}
        </ol>
        {others.length > 0 && (
          <>
            <h2 className="mt-4">Beside them</h2>
            <p className="mb-2 text-muted">Set up, and told nothing by themselves yet.</p>
            <ul className="divide-y divide-line border-y border-line">
              {others.map((one) => (
                <ChannelRow key={one.name} channel={one} />
              ))}
            </ul>
          </>
        )}
      </Sheet>
      <Sheet label="Given up" className="p-4">
        <h2>Given up in the last week</h2>
        {data.failed.length === 0 ? (
          <p className="mt-1 text-muted">
            Nothing. What concerns an open incident is tried for as long as nobody has it in hand.
          </p>
        ) : (
          <ul className="mt-2 divide-y divide-line border-y border-line">
            {data.failed.map((one) => (
              <Failed key={one.id} message={one} />
            ))}
          </ul>
        )}
      </Sheet>
    </>
  );
}

function ChannelRow({ channel, place }: { channel: ChannelState; place?: number }) {
  const now = useNow();
  const fails = channel.reason !== '';
  return (
    <li className="flex gap-3 py-3">
      <span className="w-5 text-right text-muted">{place}</span>
      <div className="min-w-0 flex-1">
        <span className="font-semibold">{channel.name}</span>{' '}
        <span className="text-muted">
          {channel.kind === channel.name ? '' : `${channel.kind} `}
          {channel.where}
        </span>
        <p className={fails ? 'text-critical' : ''}>{stateWords(channel, now)}</p>
        {channel.answered !== '' && <p className="text-[13px] text-muted">Answered {channel.answered}.</p>}
      </div>
    </li>
  );
}

function Failed({ message }: { message: FailedMessage }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const again = useMutation({
    mutationFn: () => send('post', '/api/messages/{id}/again', { path: { id: message.id } }),
    onSuccess: () => {
      toast(`It goes to ${message.person} once more.`);
      void queries.invalidateQueries({ queryKey: delivery.key });
    },
    onError: sayFailure,
  });
  return (
    <li className="flex items-start gap-3 py-2.5">
      <div className="min-w-0 flex-1">
        <Link to="/incidents/$id" params={{ id: String(message.incident) }} className="font-semibold hover:underline">
          {message.title}
        </Link>
        <p>
          to {message.person} by {message.channel}, {dayClock(message.dueAt, zone)}
        </p>
        <p className="text-[13px] break-words text-muted">{message.reason}</p>
      </div>
      {may('answer incidents') && (
        <Button disabled={again.isPending} onClick={() => again.mutate()}>
          Send again
        </Button>
      )}
    </li>
  );
}
