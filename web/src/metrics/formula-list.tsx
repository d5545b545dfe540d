import { type ReactNode, useEffect, useState } from 'react';
import type { ApiError } from '../api/client';
import { Button } from '../ui/controls';
import { FormulaFault } from './formula-fault';
import { FormulaInput } from './formula-input';
import { LETTERS } from './rows';

type Props = { formulas: string[]; errors: (ApiError | null)[]; notes: (string | undefined)[]; onShow: (formulas: string[], takenAway?: number) => void; children: (i: number) => ReactNode };

/** The formulas of the page, each with what is wrong with it, or why it shows nothing; what is typed is shown when it is entered. */
export function FormulaList({ formulas, errors, notes, onShow, children }: Props) {
  const [drafts, setDrafts] = useState(formulas);
  useEffect(() => setDrafts(formulas), [formulas]);
  const show = (next: string[], takenAway?: number) => onShow(next.map((one) => one.trim()).filter((one, i) => one !== '' || i === 0), takenAway);
  const withDraft = (i: number, text: string) => drafts.map((one, at) => (at === i ? text : one));
  return (
    <div className="mt-3 space-y-2">
      {drafts.map((draft, i) => (
        <div key={i}>
          <div className="flex items-center gap-2">
            <span className="w-4 text-center font-semibold" style={{ color: i === 0 ? 'var(--accent)' : 'var(--muted)' }}>
              {LETTERS[i]}
            </span>
            <FormulaInput label={i === 0 ? 'Formula' : `Formula ${LETTERS[i]}`} invalid={errors[i]?.field === 'formula'} value={draft} onChange={(text) => setDrafts(withDraft(i, text))} onSubmit={(text) => show(withDraft(i, text))} />
            {i < formulas.length && children(i)}
            {i > 0 && (
              <Button look="quiet" aria-label={`Take formula ${LETTERS[i]} away`} onClick={() => show(drafts.filter((_, at) => at !== i), i)}>
                ×
              </Button>
            )}
            {i === drafts.length - 1 && drafts.length < LETTERS.length && (
              <Button aria-label={`Add formula ${LETTERS[i + 1]}`} onClick={() => setDrafts([...drafts, ''])}>
                + {LETTERS[i + 1]}
              </Button>
            )}
            {i === 0 && (
              <Button onClick={() => show(drafts)} disabled={drafts.join('\n').trim() === formulas.join('\n') || !drafts[0]?.trim()}>
                Show
              </Button>
            )}
          </div>
          {notes[i] && !errors[i] && <p className="mt-1 ml-6 text-[13px] text-muted">{notes[i]}.</p>}
          {errors[i] && <FormulaFault formula={formulas[i] ?? ''} error={errors[i]} onSuggest={(text) => show(withDraft(i, text))} />}
        </div>
      ))}
    </div>
  );
}
