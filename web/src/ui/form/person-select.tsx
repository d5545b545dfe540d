import { useQuery } from '@tanstack/react-query';
import { people } from '../../api/queries';
import { Select } from '../controls';

type Props = {
  /** Their id, null where it is nobody in particular. */
  value: number | null;
  onChange: (person: number | null) => void;
  /** What it means to choose nobody in particular. */
  nobody: string;
};

/** One of the people there are, by name. */
export function PersonSelect({ value, onChange, nobody }: Props) {
  const everybody = useQuery(people.all());
  const byName = (everybody.data ?? []).toSorted((a, b) => a.name.localeCompare(b.name));
  return (
    <Select value={value ?? ''} onChange={(event) => onChange(event.target.value === '' ? null : Number(event.target.value))}>
      <option value="">{everybody.isError ? `${nobody} (the people could not be asked for)` : nobody}</option>
      {byName.map((person) => (
        <option key={person.id} value={person.id}>
          {person.name}
        </option>
      ))}
    </Select>
  );
}
