type Props<V extends string> = {
  /** Each with the words beside its box. */
  of: readonly (readonly [V, string])[];
  chosen: readonly V[];
  onChange: (chosen: V[]) => void;
};

/** Some of a list, a box each; what is chosen keeps the order in which it was. */
export function Checks<V extends string>({ of, chosen, onChange }: Props<V>) {
  return of.map(([one, words]) => (
    <label key={one} className="flex items-center gap-1.5">
      <input
        type="checkbox"
        checked={chosen.includes(one)}
        onChange={(event) => onChange(event.target.checked ? [...chosen, one] : chosen.filter((other) => other !== one))}
      />
      <span className="min-w-0">{words}</span>
    </label>
  ));
}
