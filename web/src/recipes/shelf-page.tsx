import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { fleet } from '../api/queries';
import type { Recipe, Recipes } from '../api/types';
import { Answered } from '../ui/answered';
import { Input, Sheet } from '../ui/controls';
import { many } from '../ui/format';
import { hasWords } from '../ui/has-words';
import { PageHead } from '../ui/page-head';
import { FleetTabs } from '../fleet/fleet-tabs';
import { askedWords, broughtWords, searched } from './recipe-words';

/** The shelf: how things of each kind are watched, found by one field. */
export function ShelfPage() {
  const recipes = useQuery(fleet.recipes());
  return (
    <>
      <FleetTabs />
      <Answered of={recipes} what="the recipes" className="py-10">
        {(data) => <Listed data={data} />}
      </Answered>
    </>
  );
}

function Listed({ data: { recipes, unread } }: { data: Recipes }) {
  const [find, setFind] = useState('');
  const fits = hasWords(find);
  const shown = recipes.filter((recipe) => fits(searched(recipe)));
  const used = recipes.filter((recipe) => recipe.used.length > 0).length;
  const sentence = `${many(recipes.length, 'recipe')}${used > 0 ? `, ${used} of them in use` : ''}.`;
  return (
    <>
      <PageHead title="Recipes" means={sentence}>
        {sentence}{' '}
        <span className="font-normal text-muted">
          Each says how a kind of thing is asked, what it brings, and which rules fit.
        </span>
      </PageHead>
      {unread.length > 0 && (
        <div role="status" className="mt-3 rounded-lg border border-minor/40 bg-sheet px-3 py-2 break-words">
          {many(unread.length, 'fault')} in recipes, which are left out until they are mended:
          {unread.slice(0, 5).map((fault) => (
            <code key={fault} className="block font-mono text-[12.5px]">
              {fault}
            </code>
          ))}
        </div>
      )}
      <Input
        type="search"
        aria-label="Search recipes"
        placeholder="What do you run? MariaDB, queue, certificate …"
        value={find}
        onChange={(event) => setFind(event.target.value)}
        className="mt-3 max-w-96"
      />
      <Sheet className="mt-3" label="Recipes">
        <ul className="divide-y divide-line">
          {shown.map((recipe) => (
            <Row key={recipe.key} recipe={recipe} />
          ))}
        </ul>
      </Sheet>
      {shown.length === 0 && (
        <p className="mt-2 text-muted">
          No recipe has these words. <b>Add …</b> in Targets watches whatever there is none for.
        </p>
      )}
    </>
  );
}

function Row({ recipe }: { recipe: Recipe }) {
  return (
    <li className="relative grid grid-cols-[14rem_minmax(0,1fr)_13rem_7rem] gap-x-4 px-4 py-2.5 hover:bg-accent-soft max-md:grid-cols-1">
      <Link
        to="/fleet/recipes/$key"
        params={{ key: recipe.key }}
        className="font-semibold after:absolute after:inset-0"
        aria-describedby={`recipe-${recipe.key}`}
      >
        {recipe.name}
      </Link>
      <span id={`recipe-${recipe.key}`} className="text-muted">
        {recipe.about}
      </span>
      <span className="text-[13px]">
        {broughtWords(recipe)}
        <span className="block text-muted">{askedWords(recipe)}</span>
      </span>
      <span className="text-[13px] text-muted">{recipe.used.length > 0 && `watches ${recipe.used.length}`}</span>
    </li>
  );
}
