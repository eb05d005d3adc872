import { NumberField } from './NumberField.js';

/** A number of a form: what it is called, its unit and its range. */
export interface NumberSpec<Name extends string> {
  readonly name: Name;
  readonly label: string;
  readonly unit: string;
  readonly least: number;
  readonly most: number;
}

/** Several numbers of one object, each typed. @param onChange is given the number that has changed */
export function NumberFields<Name extends string>({
  fields,
  values,
  onChange,
}: {
  readonly fields: readonly NumberSpec<Name>[];
  readonly values: Readonly<Record<Name, number>>;
  readonly onChange: (change: Partial<Record<Name, number>>) => void;
}) {
  return fields.map(({ name, ...field }) => (
    <NumberField
      key={name}
      {...field}
      value={values[name]}
      onChange={(value) => onChange({ [name]: value } as Partial<Record<Name, number>>)}
    />
  ));
}
