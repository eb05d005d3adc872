const isField = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('input, textarea, select, [contenteditable="true"]') !== null;

/**
 * Keeps the browser from leaving the page because of a stray action: a file that is let go beside every place for it would be shown instead
 * of the page, and Alt ← in a field would go back; what is not saved would be gone.
 */
export function keepPage(): void {
  for (const name of ['dragover', 'drop'] as const)
    window.addEventListener(name, (event) => {
      if (!event.dataTransfer?.types.includes('Files') || event.defaultPrevented) return;
      event.preventDefault();
      event.dataTransfer.dropEffect = 'none';
    });
  window.addEventListener('keydown', (event) => {
    const isBack = event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight');
    if (isBack && isField(event.target)) event.preventDefault();
  });
}
