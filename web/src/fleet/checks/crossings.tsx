import { Link } from '@tanstack/react-router';
import type { Check, Checks } from '../../api/types';
import { Sheet } from '../../ui/controls';
import { span } from '../../ui/format';
import { kindWords } from './asked';
import { CheckRail } from './check-rail';
import { VerdictMark, verdictWords, worst } from './verdict';

/** Checks down, places across: in each crossing the last verdicts as ticks, at the end what they say together. */
export function Crossings({ data: { places, checks }, shown }: { data: Checks; shown: Check[] }) {
  const asking = places.filter((place) => checks.some((check) => check.places.includes(place.id)));
  return (
    <Sheet className="mt-3 overflow-x-auto" label="Checks and places">
      <table className="w-full">
        <thead>
          <tr className="text-left text-muted">
            <th className="px-4 py-2.5 font-normal">check</th>
            {asking.map((place) => (
              <th key={place.id} className="px-3 py-2.5 font-normal">
                {place.name}
              </th>
            ))}
            <th className="px-4 py-2.5 font-normal">what it comes to</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((check) => (
            <tr key={check.id} className="border-t border-line align-top">
              <th scope="row" className="max-w-72 px-4 py-2.5 text-left font-normal">
                <Link to="/fleet/checks/$id" params={{ id: String(check.id) }} className="font-semibold hover:underline">
                  {check.name}
                </Link>
                <span className="block text-[13px] text-muted">
                  every {span(check.intervalSeconds * 1000)}, {kindWords(check.asks)}
                </span>
              </th>
              {asking.map((place) => (
                <td key={place.id} className="px-3 py-2.5">
                  <FromPlace check={check} place={place.id} />
                </td>
              ))}
              <td className="px-4 py-2.5">
                <Together check={check} names={new Map(places.map(({ id, name }) => [id, name]))} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Sheet>
  );
}

function FromPlace({ check, place }: { check: Check; place: number }) {
  if (!check.places.includes(place)) return <span className="text-[13px] text-muted">not asked from here</span>;
  const state = check.states.find((one) => one.place === place);
  return state ? <CheckRail check={check} state={state} /> : <span className="text-[13px] text-muted">not asked yet</span>;
}

/** What its places say together: the verdict, who saw it where they do not agree, and why. */
function Together({ check, names }: { check: Check; names: Map<number, string> }) {
  const verdict = worst(check.states);
  if (check.paused) return <span className="text-muted">paused</span>;
  const seeing = check.states.filter((state) => state.verdict === verdict);
  const agree = seeing.length === check.states.length;
  const silent = check.states.find((state) => state.overdue);
  return (
    <>
      <span className="inline-flex items-start gap-1.5">
        <span className="mt-px">
          <VerdictMark verdict={verdict} />
        </span>
        <span>
          {verdict === null ? 'not asked yet' : verdictWords(verdict)}
          {!agree && `, seen from ${seeing.map((state) => names.get(state.place)).join(' and ')} alone`}
        </span>
      </span>
      {seeing[0]?.words && <span className="block max-w-xl text-[13px] break-words text-muted">{seeing[0].words}</span>}
      {silent && <span className="block text-[13px] text-minor">not asked any more from {names.get(silent.place)}</span>}
    </>
  );
}
