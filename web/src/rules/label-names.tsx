import { useState } from 'react';
import { Input } from '../ui/controls';

const read = (text: string) => [
  ...new Set(
    text
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean),
  ),
];

/** Names of labels with commas between: `site, service`. The text stays as it is typed while it says the same. */
export function LabelNamesInput({ value, onChange }: { value: string[]; onChange: (names: string[]) => void }) {
  const [text, setText] = useState(value.join(', '));
  const shown = read(text).join() === value.join() ? text : value.join(', ');
  return (
    <Input
      placeholder="site, service"
      autoComplete="off"
      value={shown}
      onChange={(event) => {
        setText(event.target.value);
        onChange(read(event.target.value));
      }}
    />
  );
}
