import { useId } from 'react';
import { Form } from 'react-bootstrap';

interface ChoiceProps<V extends string> {
  readonly label: string;
  readonly value: V;
  readonly options: readonly (readonly [value: V, words: string])[];
  readonly onChange: (value: V) => void;
}

/** One setting out of a few. */
export function Choice<V extends string>({ label, value, options, onChange }: ChoiceProps<V>) {
  const id = useId();
  return (
    <div className="setting">
      <label htmlFor={id}>{label}</label>
      <Form.Select
        id={id}
        size="sm"
        value={value}
        onChange={({ target }) => {
          const chosen = options.find(([option]) => option === target.value);
          if (chosen) onChange(chosen[0]);
        }}
      >
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
