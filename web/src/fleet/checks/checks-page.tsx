import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { fleet } from '../../api/queries';
import type { Checks } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Input, Sheet } from '../../ui/controls';
import { many } from '../../ui/format';
import { hasWords } from '../../ui/has-words';
import { PageHead } from '../../ui/page-head';
import { useMay } from '../../ui/session';
import { FleetTabs } from '../fleet-tabs';
import { AddSomething } from '../add-something';
import { Crossings } from './crossings';
import { checksSentence } from './verdict';

/** Checks down, places across: what each place saw last, and what they say together. */
export function ChecksPage() {
  const checks = useQuery({ ...fleet.checks(), refetchInterval: 5_000 });
  const mayChange = useMay()('keep targets');
  return (
    <>
      <FleetTabs>{mayChange && <AddSomething />}</FleetTabs>
      <Answered of={checks} what="the checks" className="py-10">
        {(data) => <Listed data={data} />}
      </Answered>
    </>
  );
}

function Listed({ data }: { data: Checks }) {
  const { places, checks, unread } = data;
  const [find, setFind] = useState('');
  const fits = hasWords(find);
  const shown = checks.filter((check) =>
    fits(`${check.name} ${check.url} ${Object.values(check.labels).join(' ')} ${check.kind}`.toLowerCase()),
  );
  const asking = places.filter((place) => checks.some((check) => check.places.includes(place.id)));
  const sentence = checksSentence(checks);
  return (
    <>
      <PageHead title="Checks" means={sentence}>
        {sentence}{' '}
        <span className="font-normal text-muted">
          {checks.length > 0 && `Asked from ${asking.length === 1 ? asking[0]!.name : many(asking.length, 'place')}.`}
        </span>
      </PageHead>
      {unread.map((one) => (
        <p key={one.id} role="alert" className="mt-3 rounded-lg border border-critical/40 bg-sheet px-3 py-2">
          “{one.name}” is not asked: what it asks cannot be read any more. {one.words}.
        </p>
      ))}
      {checks.length === 0 ? (
        <Sheet className="mt-4 p-6">
          <p>
            What a server says of itself is the view from inside. A check asks as a user would: whether a page answers, says what
            it should, and how long that takes.
          </p>
        </Sheet>
      ) : (
        <>
          <Input
            type="search"
            aria-label="Search checks"
            placeholder="Search names, addresses, labels"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            className="mt-3 max-w-72"
          />
          <Crossings data={data} shown={shown} />
          {shown.length === 0 && <p className="mt-2 text-muted">No check has these words.</p>}
        </>
      )}
    </>
  );
}
