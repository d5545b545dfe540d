import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { fleet } from '../api/queries';
import type { Adopted, Recipe, RecipeTrial } from '../api/types';
import { Button, Field, Input } from '../ui/controls';
import { TrialResult } from '../fleet/checks/trial-result';
import { LabelFields } from '../fleet/label-fields';
import { TestResult } from '../fleet/test-result';

/** What the recipe asks for; tried before it is watched, so that what is missing is said first. */
export function AdoptForm({ recipe, onDone }: { recipe: Recipe; onDone: (adopted: Adopted) => void }) {
  const queries = useQueryClient();
  const places = useQuery({ ...fleet.places(), enabled: recipe.asks !== 'metrics' }).data?.places ?? [];
  const [name, setName] = useState('');
  const [inputs, setInputs] = useState<Record<string, string>>({});
  const [labels, setLabels] = useState<Record<string, string>>({});
  const [from, setFrom] = useState([1]);
  const body = { name: name.trim(), inputs, labels, places: from };
  const asked = JSON.stringify(inputs);
  const path = { name: recipe.key };
  const trial = useMutation({
    mutationFn: async () => ({ asked, result: await send('post', '/api/recipes/{name}/try', { path, body }) }),
    // What was typed meanwhile stays.
    onSuccess: ({ result }) => setName((typed) => (typed === '' ? result.proposed : typed)),
  });
  const adopt = useMutation({
    mutationFn: () => send('post', '/api/recipes/{name}/adopt', { path, body }),
    onSuccess: (adopted) => {
      void queries.invalidateQueries({ queryKey: fleet.key });
      toast(`${adopted.name} is watched from now on.`);
      onDone(adopted);
    },
  });
  const failed = adopt.error ?? trial.error;
  const field = failed instanceof ApiError ? failed.field : undefined;
  const isKnown = field === 'name' || recipe.inputs.some((input) => field === `inputs.${input.name}`);
  const isMissing = recipe.inputs.some((input) => input.usual === null && !input.isSecret && !(inputs[input.name] ?? '').trim());
  const isAsking = trial.isPending || adopt.isPending;
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        trial.reset();
        adopt.mutate();
      }}
    >
      <Field label="Name" help="as people call it" error={field === 'name' ? failed?.message : undefined}>
        <Input name="name" value={name} autoComplete="off" onChange={(event) => setName(event.target.value)} />
      </Field>
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        {recipe.inputs.map((input) => (
          <Field
            key={input.name}
            label={input.label}
            help={input.help || (input.usual ? `empty: ${input.usual}` : undefined)}
            error={field === `inputs.${input.name}` ? failed?.message : undefined}
            className={recipe.inputs.length === 1 ? 'col-span-2 max-sm:col-span-1' : undefined}
          >
            <Input
              name={input.name}
              type={input.isSecret ? 'password' : 'text'}
              autoComplete={input.isSecret ? 'new-password' : 'off'}
              spellCheck={false}
              value={inputs[input.name] ?? ''}
              placeholder={input.usual ?? ''}
              onChange={(event) => setInputs({ ...inputs, [input.name]: event.target.value })}
            />
          </Field>
        ))}
      </div>
      <LabelFields
        value={labels}
        offered={['service']}
        error={field === 'labels' ? failed?.message : undefined}
        help="They tie it to the other sides of the same service."
        onChange={setLabels}
      />
      {recipe.asks !== 'metrics' && places.length > 1 && (
        <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
          <legend className="mb-1 font-medium">Asked from</legend>
          {places.map((place) => (
            <label key={place.id} className="inline-flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={from.includes(place.id)}
                onChange={(event) => setFrom(event.target.checked ? [...from, place.id] : from.filter((id) => id !== place.id))}
              />
              {place.name}
            </label>
          ))}
        </fieldset>
      )}
      {failed && !isKnown && (
        <p role="alert" className="break-words text-critical">
          {failed.message}
        </p>
      )}
      {trial.data && trial.data.asked === asked && <Tried trial={trial.data.result} />}
      <div className="flex justify-end gap-2">
        <Button
          disabled={isAsking || isMissing}
          onClick={() => {
            adopt.reset();
            trial.mutate();
          }}
        >
          {trial.isPending ? 'Asking …' : 'Try'}
        </Button>
        <Button type="submit" look="accent" disabled={isAsking || isMissing || name.trim() === '' || from.length === 0}>
          Watch it
        </Button>
      </div>
    </form>
  );
}

function Tried({ trial: { check, target, came, missing } }: { trial: RecipeTrial }) {
  const all = came.length + missing.length;
  return (
    <>
      {check && <TrialResult trial={check} />}
      {target && <TestResult test={target} />}
      {all > 0 && (
        <p role="status">
          {came.length} of the {all} metrics of the recipe came.
          {missing.length > 0 && (
            <span className="block text-[13px] break-words text-muted">
              Not here: <span className="font-mono text-[12.5px]">{missing.join(', ')}</span>
            </span>
          )}
        </p>
      )}
    </>
  );
}
