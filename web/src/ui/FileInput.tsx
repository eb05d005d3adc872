import type { RefObject } from 'react';

/** The browser's own choice of a file, behind a button that presses it; the same file can be chosen twice in a row. */
export function FileInput({
  ref,
  label,
  accept,
  onFile,
}: {
  ref: RefObject<HTMLInputElement | null>;
  label: string;
  accept?: string;
  onFile: (file: File) => void;
}) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      hidden
      aria-label={label}
      onChange={({ target }) => {
        const file = target.files?.[0];
        target.value = '';
        if (file) onFile(file);
      }}
    />
  );
}
