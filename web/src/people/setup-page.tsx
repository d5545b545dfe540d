import { useQuery } from '@tanstack/react-query';
import { people as asked, rosters } from '../api/queries';
import type { PersonRow } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { listed, many } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay, useSession } from '../ui/session';
import { AddPerson } from './add-person';
import { AuditSheet } from './audit-sheet';
import { LimitsSheet } from './limits-sheet';
import { PersonDialog } from './person-dialog';
import { RetentionSheet } from './retention-sheet';
import { SettingsSheet } from './settings-sheet';
import { TokensSheet } from './tokens-sheet';

/** The people, what is kept and how, and for administrators what anyone changed. */
export function SetupPage() {
  const may = useMay();
  const people = useQuery(asked.all());
  const onCall = useOnRosters();
  const turns = people.data?.filter((one) => onCall(one.id).length > 0).length ?? 0;
  return (
    <>
      <div className="mt-4">
        <PageHead title="Setup">
          {people.data ? `${many(people.data.length, 'person', 'people')}, ` : 'Setup '}
          {people.data && (
            <span className="font-normal text-muted">
              {turns === 0 ? 'nobody takes turns' : `${turns} of them take turns`} on call.
            </span>
          )}
        </PageHead>
      </div>
      <div className="mt-3 grid grid-cols-2 items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          <Sheet label="People" className="overflow-x-auto">
            <Answered of={people} what="the people" className="px-4 py-3">
              {(rows) => <PeopleTable people={rows} />}
            </Answered>
          </Sheet>
          {may('keep people') && <AddPerson />}
          <RetentionSheet />
        </div>
        <div className="space-y-4">
          <SettingsSheet />
          <LimitsSheet />
          <TokensSheet />
        </div>
        {may('read the audit') && <AuditSheet />}
      </div>
    </>
  );
}

/** The rosters on which somebody takes turns. */
function useOnRosters(): (person: number) => string[] {
  const list = useQuery(rosters.all());
  return (person) => list.data?.people.find((one) => one.id === person)?.rosters ?? [];
}

function PeopleTable({ people }: { people: PersonRow[] }) {
  const { person } = useSession();
  const mayKeep = useMay()('keep people');
  const onCall = useOnRosters();
  return (
    <table className="w-full">
      <thead className="text-left text-muted">
        <tr>
          {['name', 'e-mail', 'role', 'on call by', ...(mayKeep ? [''] : [])].map((name) => (
            <th key={name} className="px-4 py-2 font-normal">
              {name || <span className="sr-only">change</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {people.map((one) => (
          <tr key={one.id} className="border-t border-line">
            <td className={one.barred ? 'px-4 py-1.5 text-muted' : 'px-4 py-1.5 font-semibold'}>
              {one.name}
              {one.barred && ' · barred'}
            </td>
            <td className="px-4 py-1.5">{one.email}</td>
            <td className="px-4 py-1.5">{one.role}</td>
            <td className="px-4 py-1.5">{listed(onCall(one.id)) || <span className="text-muted">no roster</span>}</td>
            {mayKeep && (
              <td className="px-2 py-1.5 text-right">
                <PersonDialog person={one} isSelf={one.id === person.id} />
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
