import type { PlanChoices, ShownPlan } from '../api/types';
import { DialogBox } from '../ui/dialog-box';
import { CopyForm } from './copy-form';
import { LadderForm } from './ladder-form';
import { PathForm } from './path-form';
import { TeamForm } from './team-form';
import { type AnyEdited, oneOf } from './use-part-form';

export type PartFormProps<E> = {
  edited: E;
  plan: ShownPlan;
  choices: PlanChoices;
  onDone: () => void;
  /** Begins a new one with the same values. */
  onCopy: () => void;
};
type Props = {
  edited: AnyEdited | null;
  plan: ShownPlan;
  choices: PlanChoices;
  onEdit: (edited: AnyEdited | null) => void;
};
/** A path, a ladder, a copy or a team of the draft. */
export function PartDialog({ edited, plan, choices, onEdit }: Props) {
  const shared = {
    plan,
    choices,
    onDone: () => onEdit(null),
    onCopy: () => edited && onEdit({ ...edited, isNew: true, part: { ...edited.part, name: '' } } as AnyEdited),
  };
  const title =
    edited && (edited.isNew ? `A new ${oneOf(edited.kind).toLowerCase()}` : `${oneOf(edited.kind)} ${edited.part.name}`);
  return (
    <DialogBox open={edited !== null} onOpenChange={(open) => !open && onEdit(null)} title={title ?? ''} wide={760}>
      {edited?.kind === 'paths' && <PathForm key={String(edited.isNew)} edited={edited} {...shared} />}
      {edited?.kind === 'ladders' && <LadderForm key={String(edited.isNew)} edited={edited} {...shared} />}
      {edited?.kind === 'copies' && <CopyForm key={String(edited.isNew)} edited={edited} {...shared} />}
      {edited?.kind === 'teams' && <TeamForm key={String(edited.isNew)} edited={edited} {...shared} />}
    </DialogBox>
  );
}
