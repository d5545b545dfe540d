import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ChannelState, FailedMessage, PathDefinition, PlanPage, ShownChannels, ShownPlan } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';
import { goesWords, stateWords, waysWords } from './channel-words';
import { DeliveryTabs } from './delivery-tabs';
import { DraftSheet } from './draft-sheet';
import { LaddersSheet } from './ladders-sheet';
import { PartDialog } from './part-dialog';
import { PlanRevisions } from './plan-revisions';
import { CopiesTable, PathsTable } from './plan-tables';
import { TrySheet } from './try-sheet';
import type { AnyEdited } from './use-part-form';
import { ChannelsDialog } from './channels-dialog';

/** Who hears, how and when: which path answers, up which ladder, by which channels, and what was given up. */
export function DeliveryPage() {
  const channels = useQuery(delivery.channels());
  const plan = useQuery(delivery.plan());
  const may = useMay();
  const [edited, setEdited] = useState<AnyEdited | null>(null);
  const shown = plan.data && (plan.data.draft?.plan ?? plan.data.inService);
  const onEdit = may('set who hears') ? setEdited : undefined;
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <PageHead title="Delivery">
          {channels.data ? waysWords(channels.data.channels) : 'How messages reach people.'}{' '}
          {channels.data && <span className="font-normal text-muted">{goesWords(channels.data.channels)}</span>}
        </PageHead>
        <div className="ml-auto flex gap-2">
          {may('keep settings') && <ChannelsDialog />}
          {onEdit && shown && (
            <Button look="accent" onClick={() => onEdit({ kind: 'paths', isNew: true, part: newPath(shown) })}>
              Add a path
            </Button>
          )}
        </div>
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,5fr)_minmax(0,2.4fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          {plan.data?.draft && (
            <DraftSheet draft={plan.data.draft} inService={plan.data.inService.number} files={plan.data.files} />
          )}
          <TrySheet hasDraft={Boolean(plan.data?.draft)} />
          <Answered of={plan} what="who hears">
            {(page) => <Plan page={page} edited={edited} setEdited={setEdited} onEdit={onEdit} />}
          </Answered>
        </div>
        <div className="space-y-4">
          {plan.data && shown && (
            <LaddersSheet plan={shown} choices={plan.data.choices} files={plan.data.files} onEdit={onEdit} />
          )}
          <Answered of={channels} what="the channels">
            {(data) => <Shown data={data} />}
          </Answered>
          {plan.data && <PlanRevisions inService={plan.data.inService.number} />}
        </div>
      </div>
    </>
  );
}

const newPath = (plan: ShownPlan): PathDefinition => ({
  name: '',
  // As everything else goes, unless somebody says otherwise.
  ladder: plan.paths.at(-1)?.definition.ladder ?? '',
  for: '',
  hours: null,
  per: ['service'],
  gatherSeconds: 30,
  gatherUntil: [],
  reopensSeconds: 600,
});

type PlanProps = {
  page: PlanPage;
  edited: AnyEdited | null;
  setEdited: (edited: AnyEdited | null) => void;
  onEdit?: (edited: AnyEdited) => void;
};
function Plan({ page, edited, setEdited, onEdit }: PlanProps) {
  const queries = useQueryClient();
  const order = useMutation({
    mutationFn: (paths: string[]) => send('put', '/api/plan/draft/order', { body: { paths } }),
    onSuccess: (kept) => queries.setQueryData(delivery.plan().queryKey, kept),
    onError: sayFailure,
  });
  const shown = page.draft?.plan ?? page.inService;
  const changed = new Set(page.draft?.changes.map((change) => `${change.kind} ${change.name}`));
  const tables = { plan: shown, choices: page.choices, changed, files: page.files, onEdit };
  return (
    <div className="space-y-4">
      <PathsTable {...tables} onOrder={onEdit && ((names) => order.mutate(names))} />
      <CopiesTable {...tables} />
      <PartDialog edited={edited} plan={shown} choices={page.choices} onEdit={setEdited} />
    </div>
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
