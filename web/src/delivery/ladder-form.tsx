import { Controller } from 'react-hook-form';
import type { PlanChoices, RungDefinition } from '../api/types';
import { Button, smallLook } from '../ui/controls';
import { listed } from '../ui/format';
import { SelectField, WholeField } from '../ui/form/fields';
import { DurationInput } from '../ui/form/typed-input';
import type { PartFormProps } from './part-dialog';
import { PartForm, keepsWords } from './part-form';
import { ChannelsEditor, ReceiversEditor } from './receivers-editor';
import { type Edited, usePartForm } from './use-part-form';

const ANOTHER: RungDefinition = { who: [{ listener: 'next on the roster', name: '' }], by: [], afterSeconds: 900 };

/** A ladder, rung by rung. */
export function LadderForm({ edited, plan, choices, onDone, onCopy }: PartFormProps<Edited<'ladders'>>) {
  const { form, remove } = usePartForm(edited, onDone);
  const usedBy = plan.ladders.find((one) => one.definition.name === edited.part.name)?.usedBy ?? [];
  const teams = plan.teams.map((one) => one.definition.name);
  return (
    <PartForm
      form={form}
      remove={remove}
      isNew={edited.isNew}
      nameHelp="Such as piers"
      keeps={keepsWords(listed(usedBy))}
      onCopy={onCopy}
      onBack={onDone}
    >
      <Controller
        control={form.control}
        name="rungs"
        render={({ field }) => <Rungs rungs={field.value} choices={choices} teams={teams} onChange={field.onChange} />}
      />
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <WholeField form={form} name="times" label="Times it is climbed" min={1} max={20} />
        <SelectField form={form} name="until" label="Until" help="Resolved: whoever takes it goes on being told">
          <option>acknowledged</option>
          <option>resolved</option>
        </SelectField>
      </div>
    </PartForm>
  );
}

type RungsProps = { rungs: RungDefinition[]; choices: PlanChoices; teams: string[]; onChange: (rungs: RungDefinition[]) => void };
function Rungs({ rungs, choices, teams, onChange }: RungsProps) {
  const change = (place: number, part: Partial<RungDefinition>) =>
    onChange(rungs.map((one, i) => (i === place ? { ...one, ...part } : one)));
  const move = (place: number) => {
    const others = rungs.filter((_, i) => i !== place);
    onChange([...others.slice(0, place - 1), rungs[place]!, ...others.slice(place - 1)]);
  };
  return (
    <fieldset className="space-y-2">
      <legend className="mb-1 font-medium">Rungs</legend>
      <ol className="space-y-2">
        {rungs.map((rung, place) => (
          <li key={place} className="rounded-lg border border-line p-3">
            <div className="flex items-start gap-3">
              <span className="w-4 pt-0.5 text-right text-muted">{place + 1}</span>
              <div className="min-w-0 flex-1 space-y-2">
                <ReceiversEditor
                  label={`Who rung ${place + 1} tells`}
                  who={rung.who}
                  choices={choices}
                  teams={teams}
                  least={1}
                  onChange={(who) => change(place, { who })}
                />
                <ChannelsEditor
                  by={rung.by}
                  choices={choices}
                  none="as each of them wishes"
                  onChange={(by) => change(place, { by })}
                />
                <label className="flex items-center gap-2">
                  <span>then</span>
                  <DurationInput
                    className={`${smallLook} !w-20`}
                    aria-label={`After rung ${place + 1}`}
                    value={rung.afterSeconds}
                    onChange={(seconds) => change(place, { afterSeconds: seconds ?? 0 })}
                  />
                  <span className="text-muted">
                    {place < rungs.length - 1 ? 'until the next rung' : 'until it begins again, where it does'}
                  </span>
                </label>
              </div>
              {place > 0 && (
                <Button look="quiet" aria-label={`Rung ${place + 1} goes one up`} onClick={() => move(place)}>
                  ↑
                </Button>
              )}
              {rungs.length > 1 && (
                <Button
                  look="quiet"
                  aria-label={`Take rung ${place + 1} out`}
                  onClick={() => onChange(rungs.filter((_, i) => i !== place))}
                >
                  ✕
                </Button>
              )}
            </div>
          </li>
        ))}
      </ol>
      <Button onClick={() => onChange([...rungs, ANOTHER])}>Add a rung</Button>
      <p className="text-[13px] text-muted">
        A rung that reaches nobody falls through to the next one at once, and the trail says so.
      </p>
    </fieldset>
  );
}
