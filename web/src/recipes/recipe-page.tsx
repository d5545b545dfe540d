import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from '@tanstack/react-router';
import clsx from 'clsx';
import { useState } from 'react';
import { fleet } from '../api/queries';
import type { Recipe, RuleDefinition } from '../api/types';
import { keepNew } from '../rules/new-draft';
import { Starters } from '../rules/starters';
import { Answered } from '../ui/answered';
import { Select, Sheet } from '../ui/controls';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay } from '../ui/session';
import { FleetTabs } from '../fleet/fleet-tabs';
import { pageOf } from '../fleet/kinds';
import { AdoptForm } from './adopt-form';
import { askedSentence } from './recipe-words';

/** One recipe: what it needs and costs, what it brings, the form that has a thing watched by it, and its rules. */
export function RecipePage() {
  const { key } = useParams({ from: '/signed-in/fleet/recipes/$key' });
  const recipe = useQuery(fleet.recipe(key));
  return (
    <>
      <FleetTabs />
      <Answered of={recipe} what="the recipe" className="py-10">
        {(data) => <Opened key={data.key} recipe={data} />}
      </Answered>
    </>
  );
}

function Opened({ recipe }: { recipe: Recipe }) {
  const may = useMay();
  const mayKeep = may('keep targets');
  const navigate = useNavigate();
  const [target, setTarget] = useState<number | null>(null);
  const open = useMutation({
    mutationFn: (definition: RuleDefinition) => keepNew({ ...definition, enabled: true }),
    onSuccess: (draft) => void navigate({ to: '/rules/$id', params: { id: 'new' }, search: { draft: draft.id } }),
    onError: sayFailure,
  });
  return (
    <>
      <p className="text-muted">
        <Link to="/fleet/recipes" className="hover:text-ink">
          Recipes
        </Link>{' '}
        / {recipe.thing}
      </p>
      <PageHead title={recipe.name} means={recipe.about}>
        {recipe.name}. <span className="font-normal text-muted">{recipe.about}</span>
      </PageHead>
      <div
        className={clsx('mt-3 grid items-start gap-4', mayKeep && 'grid-cols-[minmax(0,1fr)_minmax(0,26rem)] max-lg:grid-cols-1')}
      >
        <div className="space-y-4 empty:hidden">
          {recipe.asks !== '' && mayKeep && (
            <Sheet className="p-4" label={`Watch one: ${recipe.name}`}>
              <h2 className="mb-3">Watch one</h2>
              <AdoptForm
                recipe={recipe}
                onDone={({ id, kind }) => void navigate({ to: pageOf({ kind }), params: { id: String(id) } })}
              />
            </Sheet>
          )}
          {recipe.rules.length > 0 && may('write rules') && (
            <div>
              {recipe.used.length > 0 && (
                <label className="flex items-center gap-2">
                  Limits by the history of
                  <Select
                    className="max-w-72"
                    value={target ?? ''}
                    onChange={(event) => setTarget(event.target.value === '' ? null : Number(event.target.value))}
                  >
                    <option value="">all that is watched</option>
                    {recipe.used.map((one) => (
                      <option key={one.id} value={one.id}>
                        {one.name}
                      </option>
                    ))}
                  </Select>
                </label>
              )}
              <Starters of={recipe.key} target={target} onOpen={open.mutate} />
            </div>
          )}
        </div>
        <Sheet className="space-y-3 p-4" label="What it is">
          {recipe.needs.length > 0 && (
            <div>
              <h2>What must be so first</h2>
              <ul className="mt-1 space-y-1 break-words">
                {recipe.needs.map((need) => (
                  <li key={need}>{need}</li>
                ))}
              </ul>
            </div>
          )}
          <div>
            <h2>What it costs</h2>
            <p>
              {recipe.heavy} <span className="text-muted">{askedSentence(recipe)}</span>
            </p>
          </div>
          {recipe.metrics.length > 0 && (
            <div>
              <h2>What it brings</h2>
              <dl className="mt-1">
                {recipe.metrics.map((metric) => (
                  <div key={metric.name} className="py-0.5">
                    <dt className="font-mono text-[12.5px] break-all">{metric.name}</dt>
                    <dd className="text-[13px] text-muted">
                      {metric.help}
                      {metric.unit && `, ${metric.unit}`}
                    </dd>
                  </div>
                ))}
              </dl>
            </div>
          )}
          {recipe.rules.length > 0 && (
            <div>
              <h2>Which rules it knows</h2>
              <ul className="mt-1">
                {recipe.rules.map((rule) => (
                  <li key={rule.key} className="py-0.5">
                    {rule.name}
                    <span className="block text-[13px] text-muted">{rule.because}</span>
                  </li>
                ))}
              </ul>
            </div>
          )}
          {recipe.used.length > 0 && (
            <div>
              <h2>What it watches</h2>
              <ul className="mt-1">
                {recipe.used.map((one) => (
                  <li key={one.id}>
                    <Link to={pageOf(one)} params={{ id: String(one.id) }} className="hover:underline">
                      {one.name}
                    </Link>
                  </li>
                ))}
              </ul>
            </div>
          )}
        </Sheet>
      </div>
    </>
  );
}
