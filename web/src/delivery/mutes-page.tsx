import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery, watch } from '../api/queries';
import type { MutesPage as Page, ShownMute } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';
import { DeliveryTabs } from './delivery-tabs';
import { MuteButton } from './mute-button';
import { hidesWords, recursWords, whenWords } from './mute-words';

const AHEAD_DAYS = 14;
const DAY = 86_400_000;

/** What is hushed now and will be, by whom and why, and what lies beneath. */
export function MutesPage() {
  const may = useMay();
  const mutes = useQuery(delivery.mutes());
  const page = mutes.data;
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <div className="mr-auto">
          <PageHead title="Mutes and maintenance">{page?.words ?? 'What is hushed, and why.'}</PageHead>
        </div>
        {may('answer incidents') && <MuteButton look="accent">Hush …</MuteButton>}
      </div>
      <Sheet label="Mutes and maintenance" className="mt-3">
        <Answered
          of={mutes}
          what="what is hushed"
          className="px-4 py-3"
          isEmpty={(found) => found.mutes.length === 0}
          empty={
            <p className="px-4 py-6 text-muted">
              Nothing is hushed, and nothing is planned. While something is hushed its alerts go on; only nobody is told.
            </p>
          }
        >
          {(found) => <Rows page={found} />}
        </Answered>
      </Sheet>
    </>
  );
}

function Rows({ page }: { page: Page }) {
  const now = page.mutes.some((one) => one.isNow);
  return (
    <ul className="divide-y divide-line">
      {page.mutes.map((mute, place) => (
        <li key={mute.id}>
          {place === 0 && now && <h2 className="px-4 pt-3">Hushing now</h2>}
          {!mute.isNow && (place === 0 || page.mutes[place - 1]!.isNow) && <h2 className="px-4 pt-3">To come</h2>}
          <Row mute={mute} />
        </li>
      ))}
    </ul>
  );
}

function Row({ mute }: { mute: ShownMute }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: () => send('post', '/api/mutes/{id}/end', { path: { id: mute.id } }),
    onSuccess: (page) => {
      queries.setQueryData(delivery.mutes().queryKey, page);
      void queries.invalidateQueries({ queryKey: watch.key });
      toast(`${mute.name} has ended. Whoever is to be told of what was beneath is told.`);
    },
    onError: sayFailure,
  });
  return (
    <div className="flex flex-wrap items-start gap-x-4 gap-y-2 px-4 py-3">
      <div className="min-w-0 flex-1 basis-80">
        <p>
          <span className="font-semibold">{mute.name}</span>{' '}
          <span className="text-muted">
            {mute.kind}, {recursWords(mute.recurs)},
          </span>{' '}
          {whenWords(mute, zone)}
        </p>
        <code className="block font-mono text-[12.5px] break-words">{mute.matching}</code>
        <p className="text-[13px] text-muted">
          {mute.reason}
          {mute.author !== '' && `, ${mute.author}`}
          {mute.isNow && <span className={mute.hides > 0 ? 'font-semibold text-ink' : ''}> · {hidesWords(mute)}</span>}
        </p>
      </div>
      <Ahead mute={mute} />
      {may('answer incidents') && (
        <span className="flex gap-2">
          <MuteButton mute={mute}>Change</MuteButton>
          <Button disabled={end.isPending} onClick={() => end.mutate()}>
            {mute.isNow ? 'End it now' : 'Call it off'}
          </Button>
        </span>
      )}
    </div>
  );
}

/** The next two weeks as a rail: hatched where it hushes. */
function Ahead({ mute }: { mute: ShownMute }) {
  const now = useNow();
  const lasts = Date.parse(`${mute.to.replace(' ', 'T')}Z`) - Date.parse(`${mute.from.replace(' ', 'T')}Z`);
  const share = (ms: number) => `${Math.max(0, Math.min(100, (ms / (AHEAD_DAYS * DAY)) * 100))}%`;
  return (
    <div className="w-56 max-sm:w-full" aria-hidden>
      <div className="relative h-3 rounded bg-future">
        {mute.comes.map((from, place) => {
          const to = place === 0 && mute.ends !== null ? mute.ends : from + lasts;
          if (from > now + AHEAD_DAYS * DAY) return null;
          return (
            <span
              key={from}
              className="hatched absolute inset-y-0 rounded-sm border border-muted/60"
              style={{ left: share(from - now), right: `calc(100% - ${share(to - now)})`, minWidth: 3 }}
            />
          );
        })}
      </div>
      <p className="flex justify-between text-[11px] text-muted">
        <span>now</span>
        <span>in two weeks</span>
      </p>
    </div>
  );
}
