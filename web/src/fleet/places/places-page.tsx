import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { Place, Places } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Button, Sheet } from '../../ui/controls';
import { dayClock, many, span, whole } from '../../ui/format';
import { PageHead } from '../../ui/page-head';
import { sayFailure } from '../../ui/say-failure';
import { useMay, useZone } from '../../ui/session';
import { useNow } from '../../ui/use-now';
import { Crossings } from '../checks/crossings';
import { VerdictMark } from '../checks/verdict';
import { FleetTabs } from '../fleet-tabs';
import { AddStation } from './add-station';
import { placesSentence } from './place-words';

/** From where checks are asked: whether a place is cut off, how its station bears its work, and what each of them saw. */
export function PlacesPage() {
  const places = useQuery({ ...fleet.places(), refetchInterval: 5_000 });
  const checks = useQuery({ ...fleet.checks(), refetchInterval: 5_000 });
  const mayChange = useMay()('keep targets');
  const zone = useZone();
  return (
    <>
      <FleetTabs>{mayChange && places.data && <AddStation address={places.data.address} />}</FleetTabs>
      <Answered of={places} what="the places" className="py-10">
        {(data) => {
          const sentence = placesSentence(data.places, zone);
          return (
            <>
              <PageHead title="Places" means={sentence}>
                {sentence}
              </PageHead>
              <Sheet className="mt-3 overflow-x-auto" label="Places">
                <table className="w-full">
                  <thead>
                    <tr className="text-left text-muted">
                      {['place', 'its station', 'asks', 'load', 'always up', ''].map((head) => (
                        <th key={head} className="px-4 py-2.5 font-normal">
                          {head || <span className="sr-only">what can be done</span>}
                        </th>
                      ))}
                    </tr>
                  </thead>
                  <tbody>
                    {data.places.map((place) => (
                      <Row key={place.id} place={place} mayChange={mayChange} />
                    ))}
                  </tbody>
                </table>
              </Sheet>
              <Joining places={data} mayChange={mayChange} />
            </>
          );
        }}
      </Answered>
      <Answered of={checks} what="what they saw">
        {(data) =>
          data.checks.length > 0 && (
            <>
              <h2 className="mt-5 mb-2">
                What they saw <span className="font-normal text-muted">checks down, places across</span>
              </h2>
              <Crossings data={data} shown={data.checks} />
            </>
          )
        }
      </Answered>
    </>
  );
}

function Row({ place, mayChange }: { place: Place; mayChange: boolean }) {
  const now = useNow();
  const zone = useZone();
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/places/{id}', { path: { id: place.id } }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: fleet.key });
      toast(`Nothing is asked from ${place.name} any more; what it saw stays.`);
    },
    onError: sayFailure,
  });
  const { load } = place;
  return (
    <tr className="border-t border-line align-top">
      <th scope="row" className="px-4 py-2.5 text-left font-semibold">
        <span className="inline-flex items-start gap-1.5">
          <span className="mt-px">
            <VerdictMark verdict={place.cutOffSince !== null ? 'down' : place.isSilent ? 'unknown' : 'runs'} />
          </span>
          {place.name}
        </span>
      </th>
      <td className="px-4 py-2.5">
        {place.isCentre ? (
          <span className="text-muted">Olivine itself</span>
        ) : (
          <>
            {place.seenAt === null ? 'never heard of' : `heard of ${span(Math.max(0, now - place.seenAt))} ago`}
            {load && (
              <span className="block text-[13px] text-muted">
                orders <span className="font-mono text-[12px]">{load.revision.slice(0, 8)}</span>
                {load.waiting > 2 * place.checks && `; ${many(load.waiting, 'result')} on the way`}
                {load.lost > 0 && `; ${whole(load.lost)} lost for want of room`}
              </span>
            )}
            {load && load.clockAheadMs !== 0 && (
              <span className="block text-[13px] text-minor">
                its clock is {span(Math.abs(load.clockAheadMs))} {load.clockAheadMs > 0 ? 'fast' : 'slow'}; its times are put
                right
              </span>
            )}
          </>
        )}
      </td>
      <td className="px-4 py-2.5">{many(place.checks, 'check')}</td>
      <td className="px-4 py-2.5">
        {load && load.askedAMinute !== null && load.busyShare !== null ? (
          <>
            {whole(Math.round(load.askedAMinute))} a minute
            <span className="block text-[13px] text-muted">
              {(100 * load.busyShare).toFixed(1)} % of a core
              {load.room !== null && `, room for ${whole(load.room)} a minute`}
            </span>
          </>
        ) : (
          !place.isCentre && <span className="text-muted">not told yet</span>
        )}
      </td>
      <td className="px-4 py-2.5">
        {place.references.length === 0 ? (
          <span className="text-[13px] text-muted">no reference: an outage of ours would look like theirs</span>
        ) : place.cutOffSince !== null ? (
          <span className="font-medium">reaches none of them since {dayClock(place.cutOffSince, zone)}</span>
        ) : (
          <span className="text-[13px] text-muted">{place.references.join(', ')}</span>
        )}
      </td>
      <td className="px-4 py-2.5 text-right">
        {mayChange && !place.isCentre && (
          <Button onClick={() => remove.mutate()} disabled={remove.isPending}>
            Remove
          </Button>
        )}
      </td>
    </tr>
  );
}

/** What still lets somebody join. */
function Joining({ places: { tokens }, mayChange }: { places: Places; mayChange: boolean }) {
  const zone = useZone();
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: (id: number) => send('delete', '/api/station-tokens/{id}', { path: { id } }),
    onSuccess: () => queries.invalidateQueries({ queryKey: fleet.key }),
    onError: sayFailure,
  });
  if (tokens.length === 0) return null;
  return (
    <ul className="mt-2 space-y-1 text-[13px] text-muted">
      {tokens.map((token) => (
        <li key={token.id}>
          “{token.name}” lets {many(token.most - token.used, 'more station')} join until {dayClock(token.endsAt, zone)}, with
          names as <span className="font-mono text-[12px]">{token.names}</span>.{' '}
          {mayChange && (
            <button type="button" className="underline hover:text-ink" onClick={() => end.mutate(token.id)}>
              End it
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
