import { useState } from 'react';
import { Input } from '../controls';

const read = (text: string) => [
  ...new Set(
    text
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean),
  ),
];

type Props = { value: string[]; placeholder?: string; onChange: (names: string[]) => void };

/** Names with commas between: `site, service`. The text stays as it is typed while it says the same. */
export function NamesInput({ value, placeholder = 'site, service', onChange }: Props) {
  const [text, setText] = useState(value.join(', '));
  const shown = read(text).join() === value.join() ? text : value.join(', ');
  return (
    <Input
      placeholder={placeholder}
      autoComplete="off"
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onChange(read(event.target.value));
      }}
    />
  );
}
