import { type ReactNode, useEffect, useState } from 'react';
import type { ApiError } from '../api/client';
import { Button } from '../ui/controls';
import { FormulaFault } from './formula-fault';
import { FormulaInput } from './formula-input';
import { MOST_ROWS } from './rows';

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth'];
/** How a row is spoken of where its name may be missing. */
export const whichRow = (i: number): string => `${ORDINALS[i]} formula`;

type Props = {
  formulas: string[];
  asked: string[];
  names: string[];
  errors: (ApiError | null)[];
  notes: (string | undefined)[];
  onShow: (formulas: string[], takenAway?: number) => void;
  children: (i: number) => ReactNode;
};

/** The formulas of the page, each with what is wrong with it, or why it shows nothing; what is typed is shown when it is entered. */
export function FormulaList({ formulas, asked, names, errors, notes, onShow, children }: Props) {
  const [drafts, setDrafts] = useState(formulas);
  useEffect(() => setDrafts(formulas), [formulas]);
  const show = (next: string[], takenAway?: number) =>
    onShow(
      next.map((one) => one.trim()).filter((one, i) => one !== '' || i === 0),
      takenAway,
    );
  const withDraft = (i: number, text: string) => drafts.map((one, at) => (at === i ? text : one));
  return (
    <div className="mt-3 space-y-2">
      {drafts.map((draft, i) => (
        <div key={i}>
          <div className="flex items-center gap-2">
            {i < formulas.length ? (
              children(i)
            ) : (
              <span className="w-32 shrink-0 px-1.5 text-muted max-md:w-8">
                <span className="max-md:hidden">new row</span>
              </span>
            )}
            <FormulaInput
              label={i === 0 ? 'Formula' : whichRow(i).replace(/^./, (sign) => sign.toUpperCase())}
              rows={names.filter((_, at) => at !== i)}
              invalid={errors[i]?.field === 'formula'}
              value={draft}
              onChange={(text) => setDrafts(withDraft(i, text))}
              onSubmit={(text) => show(withDraft(i, text))}
            />
            {i > 0 && (
              <Button
                look="quiet"
                aria-label={`Take the ${whichRow(i)} away`}
                onClick={() =>
                  show(
                    drafts.filter((_, at) => at !== i),
                    i,
                  )
                }
              >
                ×
              </Button>
            )}
            {i === 0 && (
              <Button
                onClick={() => show(drafts)}
                disabled={drafts.join('\n').trim() === formulas.join('\n') || !drafts[0]?.trim()}
              >
                Show
              </Button>
            )}
            {i === 0 && drafts.length < MOST_ROWS && (
              <Button look="quiet" onClick={() => setDrafts([...drafts, ''])} disabled={drafts.at(-1)?.trim() === ''}>
                Add a row
              </Button>
            )}
          </div>
          {notes[i] && !errors[i] && <p className="mt-1 ml-34 text-[13px] max-md:ml-10 text-muted">{notes[i]}.</p>}
          {errors[i] && (
            <FormulaFault formula={asked[i] ?? ''} error={errors[i]} onSuggest={(text) => show(withDraft(i, text))} />
          )}
        </div>
      ))}
    </div>
  );
}
