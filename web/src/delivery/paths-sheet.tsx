import { useQuery } from '@tanstack/react-query';
import { delivery } from '../api/queries';
import type { ShownPath } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { listed, span } from '../ui/format';

/** Who answers: the first path that matches, what it gathers, and up which ladder. */
export function PathsSheet() {
  const paths = useQuery(delivery.paths());
  return (
    <Sheet label="Who answers" className="overflow-x-auto">
      <Answered of={paths} what="the paths" className="px-4 py-3">
        {(rows) => (
          <table className="w-full">
            <thead className="text-left text-muted">
              <tr>
                <th className="w-10 py-2 pl-4 font-normal">
                  <span className="sr-only">place</span>
                </th>
                <th className="px-3 py-2 font-normal">Who answers: which alerts</th>
                <th className="px-3 py-2 font-normal">Grouped</th>
                <th className="px-3 py-2 pr-4 font-normal">Up which ladder</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((path, place) => (
                <PathRow key={path.name} path={path} place={place === rows.length - 1 ? '∞' : String(place + 1)} />
              ))}
            </tbody>
          </table>
        )}
      </Answered>
    </Sheet>
  );
}

function PathRow({ path, place }: { path: ShownPath; place: string }) {
  return (
    <tr className="border-t border-line align-top">
      <td className="py-3 pl-4 text-muted">{place}</td>
      <td className="px-3 py-3">
        <span className="font-semibold">{path.name}</span>
        {path.for !== '' && <span className="block font-mono text-[12.5px] text-muted">{path.for}</span>}
        {path.hours !== '' && <span className="block text-muted">{path.hours}</span>}
        {path.for === '' && <span className="block text-muted">so nothing falls through</span>}
      </td>
      <td className="px-3 py-3">
        {path.per.length === 0 ? 'all of it is one incident' : `one incident per ${listed(path.per)}`}
        <span className="block text-muted">gathers for {span(path.gatherMs)}, told again if it worsens</span>
      </td>
      <td className="px-3 py-3 pr-4">
        <ol className="space-y-1">
          {path.rungs.map((rung, i) => (
            <li key={i}>
              <span className="font-semibold">{listed(rung.who)}</span>{' '}
              <span className={rung.people.length === 0 ? 'text-critical' : 'text-muted'}>
                now {rung.people.length === 0 ? 'nobody' : listed(rung.people)}
              </span>
              {i < path.rungs.length - 1 && <span className="text-muted">, then {span(rung.afterMs)}</span>}
            </li>
          ))}
        </ol>
        {path.times > 1 && <span className="text-muted">{path.times} times round</span>}
      </td>
    </tr>
  );
}
