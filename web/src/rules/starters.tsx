import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { fleet, rules } from '../api/queries';
import type { RuleDefinition, Starter } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { many } from '../ui/format';
import { conditionWords } from './changed-words';

type Props = {
  onOpen: (definition: RuleDefinition) => void;
  /** The rules of one recipe; else of all. */
  of?: string;
  /** By whose history limits are found; null: by that of all. */
  target?: number | null;
};

/** Rules that nearly everybody has, as they fit what is watched here: one to look at first, or several at once. */
export function Starters({ onOpen, of, target = null }: Props) {
  const all = useQuery({ ...rules.starters(), enabled: of === undefined });
  const ofOne = useQuery({ ...fleet.recipeRules(of ?? '', target), enabled: of !== undefined });
  const starters = of === undefined ? all : ofOne;
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<string[]>([]);
  const begin = useMutation({
    // One after the other: the name of one may be taken, and the others are wanted all the same.
    mutationFn: async (definitions: RuleDefinition[]) => {
      const left: string[] = [];
      for (const definition of definitions) {
        try {
          await send('post', '/api/rules', { body: { definition, enabled: true } });
          setChosen((names) => names.filter((name) => name !== definition.name));
        } catch (error) {
          left.push(`${definition.name}: ${error instanceof Error ? error.message : 'it failed'}`);
        }
      }
      return left;
    },
    onSuccess: (left, definitions) => {
      if (definitions.length > left.length) toast(`${many(definitions.length - left.length, 'rule')} in service.`);
      left.forEach((words) => toast.error(words));
    },
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: rules.key });
      if (of !== undefined) void queries.invalidateQueries({ queryKey: fleet.recipeRules(of, target).queryKey });
    },
  });
  return (
    <Sheet label="Starter rules" className="mt-3 p-4">
      <Answered
        of={starters}
        what="starter rules"
        isEmpty={(all) => all.length === 0}
        empty={of === undefined ? null : <Nothing />}
      >
        {(all) => (
          <details open={of !== undefined || all.every((one) => !one.isThere)} className="group">
            <summary className="flex cursor-pointer flex-wrap items-center gap-3">
              <h2>Rules that nearly everybody has</h2>
              <span className="text-muted">
                {many(all.filter((one) => !one.isThere).length, 'rule')} that would fit what is watched here
              </span>
            </summary>
            <div className="flex min-h-10 flex-wrap items-center gap-3">
              {chosen.length > 0 && (
                <Button
                  look="accent"
                  className="ml-auto"
                  disabled={begin.isPending}
                  onClick={() =>
                    begin.mutate(all.flatMap(({ definition }) => (chosen.includes(definition.name) ? [definition] : [])))
                  }
                >
                  Put {many(chosen.length, 'rule')} into service
                </Button>
              )}
            </div>
            <ul className="divide-y divide-line">
              {all.map((starter) => (
                <Row
                  key={starter.definition.name}
                  starter={starter}
                  chosen={chosen.includes(starter.definition.name)}
                  onChoose={(isChosen) =>
                    setChosen((names) =>
                      isChosen ? [...names, starter.definition.name] : names.filter((name) => name !== starter.definition.name),
                    )
                  }
                  onOpen={() => onOpen(starter.definition)}
                />
              ))}
            </ul>
          </details>
        )}
      </Answered>
    </Sheet>
  );
}

function Nothing() {
  return (
    <>
      <h2>Rules that nearly everybody has</h2>
      <p className="text-muted">They are offered, with limits from its own history, once the first one is watched.</p>
    </>
  );
}

type RowProps = { starter: Starter; chosen: boolean; onChoose: (isChosen: boolean) => void; onOpen: () => void };

function Row({ starter: { thing, definition, reason, because, isThere, unit }, chosen, onChoose, onOpen }: RowProps) {
  return (
    <li className="grid grid-cols-[auto_6.5rem_minmax(0,1fr)_minmax(0,1.2fr)_auto] items-center gap-x-3 py-2 max-md:grid-cols-[auto_1fr_auto]">
      <input
        type="checkbox"
        checked={chosen}
        disabled={isThere}
        onChange={(event) => onChoose(event.target.checked)}
        aria-label={`Choose ${definition.name}`}
      />
      <span className="text-muted max-md:hidden">{thing}</span>
      <span>
        <span className="block font-semibold">{definition.name}</span>
        <span className="block text-[13px] text-muted">{reason}</span>
      </span>
      <span className="text-[13px] max-md:hidden">
        {conditionWords(definition.condition, unit)}
        <span className="block text-muted">{isThere ? 'a rule looks at this already' : because}</span>
      </span>
      <Button onClick={onOpen}>Open</Button>
    </li>
  );
}
