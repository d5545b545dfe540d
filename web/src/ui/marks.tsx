import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { send } from '../api/client';
import { rules as asked } from '../api/queries';
import type { Labels, Mark } from '../api/types';
import { labelKey } from './label-key';
import { useMay } from './session';
import { sayFailure } from './say-failure';

type Spell = { labels: Labels; raisedAt: number; clearedAt: number | null };
const WORTHS = ['useful', 'noise'] as const;

/** What was said of whatever was raised there and then. */
const markOf = (marks: Mark[], spell: Spell): Mark | undefined =>
  marks.find(
    (mark) =>
      labelKey(mark.labels) === labelKey(spell.labels) &&
      spell.raisedAt < (mark.clearedAt ?? Infinity) &&
      mark.raisedAt < (spell.clearedAt ?? Infinity),
  );

/** Useful or noise: one word of an alert, which says what its rule is worth. */
export function MarkButtons({ rule, spell }: { rule: number; spell: Spell }) {
  const queries = useQueryClient();
  const marks = useQuery({ ...asked.marks(rule) });
  const maySay = useMay()('write rules');
  const mark = markOf(marks.data ?? [], spell);
  const say = useMutation({
    // What was said of an alert of other settings is taken back where it was said.
    mutationFn: (worth: Mark['worth'] | null) =>
      send('put', '/api/rules/{id}/marks', {
        path: { id: rule },
        body: {
          labels: spell.labels,
          raisedAt: mark?.raisedAt ?? spell.raisedAt,
          clearedAt: mark ? mark.clearedAt : spell.clearedAt,
          worth,
        },
      }),
    onSuccess: (next) => {
      queries.setQueryData(asked.marks(rule).queryKey, next);
      void queries.invalidateQueries({ queryKey: asked.noise().queryKey });
    },
    onError: sayFailure,
  });
  // Of a rule that is gone nothing can be said any more.
  if (marks.error) return null;
  if (!maySay) return mark ? <span className="text-muted">{`${mark.worth}, ${mark.author ?? 'somebody'}`}</span> : null;
  return (
    <span role="group" aria-label="What it was worth" className="inline-flex gap-1 whitespace-nowrap">
      {WORTHS.map((worth) => (
        <button
          key={worth}
          type="button"
          aria-pressed={mark?.worth === worth}
          title={mark?.worth === worth ? `${mark.author ?? 'Somebody'} said so; press again to take it back` : undefined}
          disabled={say.isPending}
          onClick={() => say.mutate(mark?.worth === worth ? null : worth)}
          className={clsx(
            'rounded-full border px-2 py-px text-[12px]',
            mark?.worth === worth ? 'border-accent bg-accent-soft font-semibold' : 'border-line text-muted hover:text-ink',
          )}
        >
          {worth}
        </button>
      ))}
    </span>
  );
}
