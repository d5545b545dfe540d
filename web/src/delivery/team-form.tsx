import { Controller } from 'react-hook-form';
import { Checks } from '../ui/form/checks';
import { listed } from '../ui/format';
import type { PartFormProps } from './part-dialog';
import { PartForm, keepsWords } from './part-form';
import { type Edited, usePartForm } from './use-part-form';

/** People who are told together, or own rules together. */
export function TeamForm({ edited, plan, choices, onDone, onCopy }: PartFormProps<Edited<'teams'>>) {
  const { form, remove } = usePartForm(edited, onDone);
  const usedBy = plan.teams.find((one) => one.definition.name === edited.part.name)?.usedBy ?? [];
  const gone = form.fields.people.filter((address) => !choices.people.some((one) => one.address === address));
  const all = [
    ...choices.people.map(({ address, name }) => [address, name] as const),
    ...gone.map((address) => [address, `${address} (gone)`] as const),
  ];
  return (
    <PartForm
      form={form}
      remove={remove}
      isNew={edited.isNew}
      nameHelp="As rules name their owner, such as piers"
      keeps={keepsWords(listed(usedBy))}
      onCopy={onCopy}
      onBack={onDone}
    >
      <Controller
        control={form.control}
        name="people"
        render={({ field }) => (
          <fieldset>
            <legend className="mb-1 font-medium">People</legend>
            <div className="grid grid-cols-2 gap-x-4 gap-y-1 max-sm:grid-cols-1">
              <Checks of={all} chosen={field.value} onChange={field.onChange} />
            </div>
          </fieldset>
        )}
      />
    </PartForm>
  );
}
