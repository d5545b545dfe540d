import type { PartFromFile, PlanChoices, ShownCopy, ShownPath, ShownPlan, ShownRung, WhoDefinition } from '../api/types';
import { Button, Sheet } from '../ui/controls';
import { listed, many, span } from '../ui/format';
import { DefaultMark } from '../ui/default-mark';
import { FromFile } from './from-file';
import { channelWords, reachedWords, whoWords } from './plan-words';
import type { AnyEdited } from './use-part-form';
import { WeekGrid } from './week-grid';

type Props = {
  plan: ShownPlan;
  choices: PlanChoices;
  /** Names of paths and copies that the draft has otherwise. */
  changed: ReadonlySet<string>;
  files: readonly PartFromFile[];
  onEdit?: (edited: AnyEdited) => void;
  onOrder?: (names: string[]) => void;
};

/** Who answers: the first path that matches, what it gathers, and up which ladder. */
export function PathsTable({ plan, choices, changed, files, onEdit, onOrder }: Props) {
  const names = plan.paths.map((path) => path.definition.name);
  const moveUp = (place: number) => {
    const moved = names.slice(0, -1);
    [moved[place - 1], moved[place]] = [moved[place]!, moved[place - 1]!];
    onOrder?.(moved);
  };
  return (
    <Sheet label="Who answers" className="overflow-x-auto">
      <table className="w-full">
        <Head names={['Who answers: which alerts', 'Grouped', 'Hours (Mon–Sun)', 'Up which ladder']} />
        <tbody>
          {plan.paths.map((path, place) => (
            <PathRow
              key={path.definition.name}
              path={path}
              place={place === plan.paths.length - 1 ? '∞' : String(place + 1)}
              choices={choices}
              plan={plan}
              files={files}
              isChanged={changed.has(`path ${path.definition.name}`)}
              onEdit={onEdit && (() => onEdit({ kind: 'paths', part: path.definition, isNew: false }))}
              onUp={onOrder && place > 0 && place < plan.paths.length - 1 ? () => moveUp(place) : undefined}
            />
          ))}
        </tbody>
      </table>
    </Sheet>
  );
}

const Head = ({ names }: { names: string[] }) => (
  <thead className="text-left text-muted">
    <tr>
      <th className="w-10 py-2 pl-4 font-normal">
        <span className="sr-only">place</span>
      </th>
      {names.map((name) => (
        <th key={name} className="px-3 py-2 font-normal">
          {name}
        </th>
      ))}
    </tr>
  </thead>
);

type RowProps = {
  path: ShownPath;
  place: string;
  plan: ShownPlan;
  choices: PlanChoices;
  files: readonly PartFromFile[];
  isChanged: boolean;
  onEdit?: () => void;
  onUp?: () => void;
};
function PathRow({ path, place, plan, choices, files, isChanged, onEdit, onUp }: RowProps) {
  const { definition } = path;
  const who = plan.ladders.find((ladder) => ladder.definition.name === definition.ladder)?.definition.rungs ?? [];
  return (
    <tr className={`border-t border-line align-top ${isChanged ? 'bg-accent-soft/40' : ''}`}>
      <td className="py-3 pl-4 text-muted">
        {place}
        {onUp && (
          <button
            type="button"
            className="block text-muted hover:text-ink"
            aria-label={`${definition.name} goes one up`}
            onClick={onUp}
          >
            ↑
          </button>
        )}
      </td>
      <td className="px-3 py-3">
        <Name name={definition.name} onEdit={onEdit} />
        {place === '∞' && <DefaultMark />}
        {definition.for === '' ? (
          <span className="block text-muted">so nothing falls through</span>
        ) : (
          <span className="block font-mono text-[12.5px] break-words text-muted">{definition.for}</span>
        )}
        <FromFile part={`path ${definition.name}`} files={files} />
        {path.incidents > 0 && <span className="block text-[13px]">{many(path.incidents, 'incident')} open</span>}
      </td>
      <td className="px-3 py-3">
        {definition.per.length === 0 ? 'all of it is one incident' : `one incident per ${listed(definition.per)}`}
        <span className="block text-muted">gathers {path.gathers}, told again if it worsens</span>
      </td>
      <td className="px-3 py-3">
        <WeekGrid hours={definition.hours ?? null} />
        <span className={path.hours === '' ? 'sr-only' : 'mt-1 block max-w-40 text-[13px] text-muted'}>
          {path.hours || 'at all hours'}
        </span>
      </td>
      <td className="px-3 py-3 pr-4">
        <ol className="space-y-1">
          {path.rungs.map((rung, i) => (
            <Rung
              key={i}
              rung={rung}
              who={who[i]?.who ?? []}
              choices={choices}
              isLast={i === path.rungs.length - 1 && path.times === 1}
            />
          ))}
        </ol>
        {path.times > 1 && <span className="text-muted">{path.times} times round</span>}
        {path.until === 'resolved' && <span className="block text-muted">until it is over, whoever has it</span>}
      </td>
    </tr>
  );
}

const Name = ({ name, onEdit }: { name: string; onEdit?: () => void }) =>
  onEdit ? (
    <button type="button" className="text-left font-semibold hover:underline" onClick={onEdit}>
      {name}
    </button>
  ) : (
    <span className="font-semibold">{name}</span>
  );

type RungProps = { rung: ShownRung; who: WhoDefinition[]; choices: PlanChoices; isLast: boolean };
export function Rung({ rung, who, choices, isLast }: RungProps) {
  const names = who.map((one) => whoWords(one, choices.people));
  // Whose rule it is shows when one raises; a person is said by name already.
  const isOwner = who.length > 0 && who.every((one) => one.listener === 'owner of the rule');
  const said = isOwner || (names.length === 1 && rung.people.length === 1 && names[0] === rung.people[0]);
  return (
    <li>
      <span className="font-semibold">{listed(names)}</span>
      {rung.by.length > 0 && <span className="text-muted"> {listed(channelWords(rung.by, choices))}</span>}
      {!said && ' '}
      {!said && <span className={rung.people.length === 0 ? 'text-critical' : 'text-muted'}>{reachedWords(rung)}</span>}
      {!isLast && <span className="text-muted">, then {span(rung.afterMs)}</span>}
    </li>
  );
}

/** Who else is told: each row that matches informs, and none ever wakes or climbs. */
export function CopiesTable({ plan, choices, changed, files, onEdit }: Props) {
  return (
    <Sheet label="Who else is told" className="overflow-x-auto">
      {plan.copies.length === 0 ? (
        <div className="flex items-baseline gap-3 px-4 py-3">
          <p className="text-muted">
            Nobody else is told: no copies yet. A copy informs a room or a manager, and never wakes or climbs.
          </p>
        </div>
      ) : (
        <table className="w-full">
          <Head names={['Who else is told: of which alerts', 'How', 'Hours (Mon–Sun)', 'Where']} />
          <tbody>
            {plan.copies.map((copy) => (
              <CopyRow
                key={copy.definition.name}
                copy={copy}
                choices={choices}
                files={files}
                isChanged={changed.has(`copy ${copy.definition.name}`)}
                onEdit={onEdit && (() => onEdit({ kind: 'copies', part: copy.definition, isNew: false }))}
              />
            ))}
          </tbody>
        </table>
      )}
      {onEdit && (
        <div className="border-t border-line px-4 py-2">
          <Button look="quiet" onClick={() => onEdit({ kind: 'copies', part: NEW_COPY, isNew: true })}>
            Add a copy
          </Button>
        </div>
      )}
    </Sheet>
  );
}

const NEW_COPY = { name: '', for: '', hours: null, who: [], by: [], tell: ['opened', 'resolved'], at: [] };

type CopyProps = {
  copy: ShownCopy;
  choices: PlanChoices;
  files: readonly PartFromFile[];
  isChanged: boolean;
  onEdit?: () => void;
};
function CopyRow({ copy, choices, files, isChanged, onEdit }: CopyProps) {
  const { definition } = copy;
  const who = definition.who.map((one) => whoWords(one, choices.people));
  const by = listed(channelWords(definition.by, choices));
  return (
    <tr className={`border-t border-line align-top ${isChanged ? 'bg-accent-soft/40' : ''}`}>
      <td className="py-3 pl-4 text-muted">+</td>
      <td className="px-3 py-3">
        <Name name={definition.name} onEdit={onEdit} />
        <span className="block font-mono text-[12.5px] break-words text-muted">{definition.for || 'all of them'}</span>
        <FromFile part={`copy ${definition.name}`} files={files} />
      </td>
      <td className="px-3 py-3">
        {listed(definition.tell)}
        <span className="block text-muted">{definition.at.length === 0 ? 'at once' : `at ${listed(definition.at)}`}</span>
      </td>
      <td className="px-3 py-3">
        <WeekGrid hours={definition.hours ?? null} />
        <span className={copy.hours === '' ? 'sr-only' : 'mt-1 block max-w-40 text-[13px] text-muted'}>
          {copy.hours || 'at all hours'}
        </span>
      </td>
      <td className="px-3 py-3 pr-4">
        <span className="font-semibold">{who.length > 0 ? listed(who) : by}</span>{' '}
        {who.length > 0 && <span className="text-muted">{by}</span>}
      </td>
    </tr>
  );
}
