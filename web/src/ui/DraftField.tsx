import { useId, useState, type InputHTMLAttributes, type KeyboardEvent } from 'react';

interface DraftFieldProps extends Omit<
  InputHTMLAttributes<HTMLInputElement>,
  'value' | 'onChange' | 'onBlur'
> {
  readonly label: string;
  readonly value: string;
  /** What is wrong with a text, while it is typed; undefined when it may be kept. */
  readonly fault?: (text: string) => string | undefined;
  /** A faulty text is kept as well (and shown as faulty) instead of being given up. */
  readonly keepFaulty?: boolean;
  readonly onCommit: (text: string) => void;
  /** ↑ and ↓ while nothing is typed: by 1 or −1, with Shift by 10. */
  readonly onStep?: ((by: number) => void) | undefined;
}

/**
 * A field that is typed into freely and kept on Enter, Tab or a click elsewhere; Escape leaves it as it was. One visit is
 * one edit, so one undo takes it back.
 */
export function DraftField({
  label,
  value,
  fault,
  keepFaulty = false,
  onCommit,
  onStep,
  className = '',
  onKeyDown,
  ...rest
}: DraftFieldProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const messageId = useId();
  const shown = draft ?? value;
  const wrong = fault?.(shown);
  const commit = (): void => {
    if (draft !== null && draft !== value && (!wrong || keepFaulty)) onCommit(draft);
    setDraft(null);
  };
  const key = (event: KeyboardEvent<HTMLInputElement>): void => {
    // Leaving the field keeps it, and gives the keys back to the transport.
    if (event.key === 'Enter') event.currentTarget.blur();
    if (event.key === 'Escape') setDraft(null);
    const step = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (onStep && step !== undefined && draft === null) {
      event.preventDefault();
      onStep(event.shiftKey ? 10 * step : step);
    }
    onKeyDown?.(event);
  };
  return (
    <span className="draft-field">
      <input
        {...rest}
        className={`form-control ${wrong ? 'is-invalid' : ''} ${className}`}
        aria-label={label}
        aria-invalid={wrong ? true : undefined}
        aria-describedby={wrong ? messageId : undefined}
        autoComplete="off"
        spellCheck={false}
        value={shown}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={commit}
        onKeyDown={key}
      />
      {wrong && (
        <span id={messageId} className="fault" role="status">
          {wrong}
        </span>
      )}
    </span>
  );
}
