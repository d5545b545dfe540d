import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { FieldValues } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { CopyDefinition, LadderDefinition, PathDefinition, PathFields, PlanPage, TeamDefinition } from '../api/types';
import { useSheetForm } from '../ui/form/sheet-form';
import { sayFailure } from '../ui/say-failure';

export type Part = { paths: PathDefinition; ladders: LadderDefinition; copies: CopyDefinition; teams: TeamDefinition };
export type PartKind = keyof Part;
/** A part that is changed, or one that is new, begun with these values. */
export type Edited<K extends PartKind> = { kind: K; part: Part[K]; isNew: boolean };
export type AnyEdited = { [K in PartKind]: Edited<K> }[PartKind];

const ONE = { paths: 'Path', ladders: 'Ladder', copies: 'Copy', teams: 'Team' } as const;
export const oneOf = (kind: PartKind): string => ONE[kind];

/** The form of one part of the draft: it is kept there, part by part, and what somebody else made of it meanwhile is shown. */
export function usePartForm<K extends PartKind>({ kind, part, isNew }: Edited<K>, onDone: () => void) {
  const queries = useQueryClient();
  const done = (words: string, page?: PlanPage) => {
    if (page) queries.setQueryData(delivery.plan().queryKey, page);
    void queries.invalidateQueries({ queryKey: delivery.key });
    toast(words);
    onDone();
  };
  // Each kind has the same addresses, and bodies of its own shape.
  const all = `/api/plan/draft/${kind}` as '/api/plan/draft/paths';
  const one = `${all}/{name}` as const;
  const form = useSheetForm<Part[K], Part[K] & FieldValues, PlanPage>({
    of: part,
    fieldsOf: (of) => ({ ...of }),
    save: (definition, was) => {
      const body = { definition, was: isNew ? null : was } as unknown as PathFields;
      return isNew ? send('post', all, { body }) : send('put', one, { path: { name: part.name }, body });
    },
    onSaved: (page) => done(`${ONE[kind]} ${isNew ? '' : `${part.name} `}is in the draft, and not in service yet.`, page),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', one, { path: { name: part.name } }),
    onSuccess: () => done(`${ONE[kind]} ${part.name} is out of the draft; it stays in service until the draft goes there.`),
    onError: sayFailure,
  });
  return { form, remove };
}
