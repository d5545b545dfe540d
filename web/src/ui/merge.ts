/** A field that is not the same for both: what it was, what somebody made of it meanwhile, and what stands in the form. */
export type Difference = { field: string; was: unknown; theirs: unknown; mine: unknown; by: 'them' | 'me' | 'both' };

const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** What differs between what is there now and the form, field by field; what only one changed says by whom. */
export function differences<T extends object>(was: T, theirs: T, mine: T): Difference[] {
  return (Object.keys(mine) as (keyof T & string)[])
    .filter((field) => !same(theirs[field], mine[field]))
    .map((field) => ({
      field,
      was: was[field],
      theirs: theirs[field],
      mine: mine[field],
      by: same(mine[field], was[field]) ? 'them' : same(theirs[field], was[field]) ? 'me' : 'both',
    }));
}

/** The form with what they changed taken in, but for the fields in `kept`, which stay as they are in it. */
export function merged<T extends object>(theirs: T, mine: T, found: Difference[], kept: ReadonlySet<string>): T {
  const taken = found.filter((one) => !kept.has(one.field)).map((one) => [one.field, theirs[one.field as keyof T]]);
  return { ...mine, ...(Object.fromEntries(taken) as Partial<T>) };
}
