import type { PartFromFile, PlanChoices, ShownPlan } from '../api/types';
import { Button, Sheet } from '../ui/controls';
import { listed } from '../ui/format';
import { DefaultMark } from '../ui/default-mark';
import { FromFile } from './from-file';
import { Rung } from './plan-tables';
import type { AnyEdited } from './use-part-form';

type Props = { plan: ShownPlan; choices: PlanChoices; files: readonly PartFromFile[]; onEdit?: (edited: AnyEdited) => void };
const NEW_LADDER: AnyEdited = {
  kind: 'ladders',
  isNew: true,
  part: {
    name: '',
    times: 1,
    until: 'acknowledged',
    rungs: [{ who: [{ listener: 'on call', name: '' }], by: [], afterSeconds: 900 }],
  },
};

/** Every ladder, whom it reaches now, and which paths go up it; the teams beside. */
export function LaddersSheet({ plan, choices, files, onEdit }: Props) {
  return (
    <Sheet label="Ladders and teams" className="p-4">
      <div className="flex items-baseline">
        <h2>Ladders</h2>
        {onEdit && (
          <Button look="quiet" className="ml-auto" onClick={() => onEdit(NEW_LADDER)}>
            Add a ladder
          </Button>
        )}
      </div>
      <ul className="divide-y divide-line border-y border-line">
        {plan.ladders.map(({ definition, rungs, usedBy }) => (
          <li key={definition.name} className="py-2.5">
            <Open name={definition.name} onOpen={onEdit && (() => onEdit({ kind: 'ladders', part: definition, isNew: false }))} />
            {definition.name === plan.paths.at(-1)?.definition.ladder && <DefaultMark />}
            <span className="text-[13px] text-muted"> {usedBy.length === 0 ? 'nobody goes up it' : listed(usedBy)}</span>
            <ol className="mt-1 list-decimal space-y-0.5 pl-5 marker:text-muted">
              {rungs.map((rung, i) => (
                <Rung
                  key={i}
                  rung={rung}
                  who={definition.rungs[i]?.who ?? []}
                  choices={choices}
                  isLast={i === rungs.length - 1 && definition.times === 1}
                />
              ))}
            </ol>
            <FromFile part={`ladder ${definition.name}`} files={files} />
          </li>
        ))}
      </ul>
      <div className="mt-4 flex items-baseline">
        <h2>Teams</h2>
        {onEdit && (
          <Button
            look="quiet"
            className="ml-auto"
            onClick={() => onEdit({ kind: 'teams', isNew: true, part: { name: '', people: [] } })}
          >
            Add a team
          </Button>
        )}
      </div>
      {plan.teams.length === 0 ? (
        <p className="text-muted">No teams yet. A team is told together, and owns rules together.</p>
      ) : (
        <ul className="divide-y divide-line border-y border-line">
          {plan.teams.map(({ definition, people, usedBy }) => (
            <li key={definition.name} className="py-2">
              <Open name={definition.name} onOpen={onEdit && (() => onEdit({ kind: 'teams', part: definition, isNew: false }))} />{' '}
              {people.length === 0 ? <span className="text-critical">nobody</span> : listed(people)}
              <span className="block text-[13px] text-muted">{usedBy.length === 0 ? 'on no ladder' : listed(usedBy)}</span>
              <FromFile part={`team ${definition.name}`} files={files} />
            </li>
          ))}
        </ul>
      )}
    </Sheet>
  );
}

const Open = ({ name, onOpen }: { name: string; onOpen?: () => void }) =>
  onOpen ? (
    <button type="button" className="font-semibold hover:underline" onClick={onOpen}>
      {name}
    </button>
  ) : (
    <span className="font-semibold">{name}</span>
  );
