import { Controller } from 'react-hook-form';
import { Field } from '../ui/controls';
import { Checks } from '../ui/form/checks';
import { TextField } from '../ui/form/fields';
import { NamesInput } from '../ui/form/names-input';
import { HoursEditor } from './hours-editor';
import type { PartFormProps } from './part-dialog';
import { PartForm } from './part-form';
import { ChannelsEditor, ReceiversEditor } from './receivers-editor';
import { type Edited, usePartForm } from './use-part-form';

const TELLS = [
  ['opened', 'that it opened'],
  ['worse', 'that it grew worse'],
  ['resolved', 'that it is over'],
] as const;

/** A row of who else is told: it informs, and never wakes or climbs. */
export function CopyForm({ edited, plan, choices, onDone, onCopy }: PartFormProps<Edited<'copies'>>) {
  const { form, remove } = usePartForm(edited, onDone);
  const teams = plan.teams.map((one) => one.definition.name);
  return (
    <PartForm
      form={form}
      remove={remove}
      isNew={edited.isNew}
      nameHelp="Such as skarn room"
      words={{ for: 'which alerts' }}
      onCopy={onCopy}
      onBack={onDone}
    >
      <TextField
        form={form}
        name="for"
        label="Which alerts"
        className="[&_input]:font-mono [&_input]:text-[12.5px]"
        help={'Such as site = "skarn"; left empty: all of them'}
      />
      <Controller
        control={form.control}
        name="hours"
        render={({ field }) => (
          <HoursEditor value={field.value} zone={choices.zone} always="At all hours" some="In some" onChange={field.onChange} />
        )}
      />
      <div>
        <p className="mb-1 font-medium">Who is told</p>
        <Controller
          control={form.control}
          name="who"
          render={({ field }) => (
            <ReceiversEditor
              label="Who is told"
              who={field.value}
              choices={choices}
              teams={teams}
              least={0}
              onChange={field.onChange}
            />
          )}
        />
      </div>
      <div>
        <p className="mb-1 font-medium">Through</p>
        <Controller
          control={form.control}
          name="by"
          render={({ field }) => (
            <ChannelsEditor by={field.value} choices={choices} none="as each of them wishes" onChange={field.onChange} />
          )}
        />
        <p className="mt-1 text-[13px] text-muted">A channel without a name beside it tells whoever reads there.</p>
      </div>
      <Controller
        control={form.control}
        name="tell"
        render={({ field }) => (
          <div role="group" aria-label="Tells" className="flex flex-wrap items-center gap-4">
            <span className="font-medium">Tells</span>
            <Checks of={TELLS} chosen={field.value} onChange={field.onChange} />
          </div>
        )}
      />
      <Field label="At set times" help="Such as 09:00, 17:00; left empty: at once" error={form.fault('at')}>
        <Controller
          control={form.control}
          name="at"
          render={({ field }) => <NamesInput value={field.value} placeholder="09:00, 17:00" onChange={field.onChange} />}
        />
      </Field>
    </PartForm>
  );
}
