/** Parts of a place that are shown one at a time, by their names. */
export function Tabs<Key extends string>({
  label,
  names,
  chosen,
  onChoose,
}: {
  label: string;
  names: Readonly<Record<Key, string>>;
  chosen: Key;
  onChoose: (key: Key) => void;
}) {
  return (
    <div className="tabs" role="tablist" aria-label={label}>
      {(Object.keys(names) as Key[]).map((key) => (
        <button
          key={key}
          type="button"
          role="tab"
          aria-selected={chosen === key}
          onClick={() => onChoose(key)}
        >
          {names[key]}
        </button>
      ))}
    </div>
  );
}
