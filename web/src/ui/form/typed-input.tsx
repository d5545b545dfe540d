import { type InputHTMLAttributes, useState } from 'react';
import { Input } from '../controls';
import { durationOf, durationWords, instantOf, instantWords, valueOf, valueWords } from './words';

type Meaning = { name: string; read: (text: string) => number | null; write: (value: number) => string };
type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange' | 'type'> & {
  /** In base units, null where nothing stands; what cannot be meant is NaN: nobody takes the last sound value for what stands there. */
  value: number | null;
  onChange: (value: number | null) => void;
};

/**
 * Text that means a number. The text is the person's own while it says the value; it is written anew when the value changes
 * from elsewhere (a limit that is dragged) or the unit becomes known: 0.8 then stands there as 80 %, and is still 0.8.
 */
function TypedInput({ meaning, value, onChange, ...rest }: Props & { meaning: Meaning }) {
  const write = (one: number | null) => (one === null || Number.isNaN(one) ? '' : meaning.write(one));
  const read = (words: string) => (words.trim() === '' ? null : (meaning.read(words) ?? NaN));
  const [text, setText] = useState(() => write(value));
  const [seen, setSeen] = useState({ value, meaning: meaning.name });
  if (!Object.is(seen.value, value) || seen.meaning !== meaning.name) {
    setSeen({ value, meaning: meaning.name });
    if (!Object.is(read(text), value)) setText(write(value));
  }
  return (
    <Input
      {...rest}
      type="text"
      autoComplete="off"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        onChange(read(event.target.value));
      }}
    />
  );
}

/** A number of a unit: `80 %`, `2 GiB`, `250ms`. */
export const QuantityInput = ({ unit, ...rest }: Props & { unit: string }) => (
  <TypedInput
    {...rest}
    meaning={{ name: unit, read: (text) => valueOf(text, unit), write: (value) => valueWords(value, unit) }}
  />
);

/** Whole seconds in words: `5m`, `1h30m`. */
export const DurationInput = (props: Props) => (
  <TypedInput
    {...props}
    meaning={{
      name: 'duration',
      read: (text) => {
        const seconds = durationOf(text);
        return seconds === null ? null : Math.round(seconds);
      },
      write: durationWords,
    }}
  />
);

/** An instant, as the clocks of a zone show it: `2026-11-20 03:12`. */
export const InstantInput = ({ zone, ...rest }: Props & { zone: string }) => (
  <TypedInput
    placeholder="2026-11-20 03:12"
    {...rest}
    meaning={{ name: zone, read: (text) => instantOf(text, zone), write: (at) => instantWords(at, zone) }}
  />
);
