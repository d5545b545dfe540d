import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect, useState } from 'react';
import { type DefaultValues, type FieldValues, type Path, type PathValue, type UseFormReturn, useForm } from 'react-hook-form';
import * as z from 'zod/mini';
import { ApiError } from '../../api/client';

// Nothing is made out of text at run time: the pages forbid it.
z.config({ jitless: true });

type Asked<T, F extends FieldValues, R> = {
  /** What the form changes, as it was read. */
  of: T;
  /** What of it a person writes. */
  fieldsOf: (of: T) => F;
  /** What stands in the form when it opens, where somebody left it changed. */
  begin?: F;
  /** What can be told before the server is asked. */
  schema?: z.ZodMiniType<F, F>;
  /** @param of as it is known by now: after a merge, what somebody saved meanwhile */
  save: (fields: F, of: T) => Promise<R>;
  onSaved: (kept: R) => void;
  /** For a form that stays open: what it is of from then on. */
  baseOf?: (kept: R) => T;
};
export type SheetForm<F extends FieldValues, T = unknown> = Omit<UseFormReturn<F>, 'watch'> & {
  submit: (event?: { preventDefault: () => void }) => void;
  /** The fields now, and what they were opened with. */
  fields: F;
  start: F;
  /** What the form is of, as it is known by now. */
  of: T;
  changed: boolean;
  fault: (field: Path<F>) => string | undefined;
  /** What is wrong with none of the fields. */
  problem: string | null;
  /** The fields of what somebody saved meanwhile; what was typed stays until both are merged. */
  theirs: F | null;
  /** Goes on with these fields, on top of what is there by now. */
  merge: (taken: Partial<F>) => void;
  /** Back to how it was opened. */
  undo: () => void;
};

/**
 * A form over a thing that the server keeps: its fields with their faults, whichever side found them, what was changed,
 * and what somebody else saved meanwhile. Whatever fails, what was typed stays.
 */
export function useSheetForm<T, F extends FieldValues, R>({
  of,
  fieldsOf,
  begin,
  schema,
  save,
  onSaved,
  baseOf,
}: Asked<T, F, R>): SheetForm<F, T> {
  const [base, setBase] = useState(of);
  const [there, setThere] = useState<T | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [first] = useState(() => fieldsOf(of));
  const { watch, ...form } = useForm<F>({ defaultValues: first as DefaultValues<F>, resolver: schema && zodResolver(schema) });
  const { setValue } = form;
  useEffect(() => {
    for (const [name, value] of Object.entries<unknown>(begin ?? {}))
      setValue(name as Path<F>, value as PathValue<F, Path<F>>, { shouldDirty: true });
    // What it opens with is laid over once.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const fields = watch();
  const start = (form.formState.defaultValues ?? first) as F;
  const submit = form.handleSubmit(async (typed) => {
    const sent = typed;
    setProblem(null);
    try {
      const kept = await save(sent, base);
      if (baseOf) setBase(baseOf(kept));
      form.reset(sent);
      onSaved(kept);
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      if (error.status === 409 && error.now !== undefined) setThere(error.now as T);
      else if (error.field !== undefined && error.field in fields)
        form.setError(error.field as Path<F>, { message: error.message }, { shouldFocus: true });
      else setProblem(error.message);
    }
  });
  return {
    ...form,
    fields,
    start,
    of: base,
    submit: (event) => void submit(event as Parameters<typeof submit>[0]),
    changed: form.formState.isDirty,
    fault: (field) => {
      const found = form.getFieldState(field, form.formState).error;
      return found && (found.message || 'This is not complete');
    },
    problem,
    theirs: there === null ? null : fieldsOf(there),
    merge: (taken) => {
      if (there === null) return;
      setBase(there);
      form.reset(fieldsOf(there));
      for (const [name, value] of Object.entries<unknown>({ ...fields, ...taken }))
        form.setValue(name as Path<F>, value as PathValue<F, Path<F>>, { shouldDirty: true });
      setThere(null);
      setProblem(null);
    },
    undo: () => {
      form.reset();
      setProblem(null);
      setThere(null);
    },
  };
}
