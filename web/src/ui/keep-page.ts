/** A file that is let go beside every place for it would make the browser show it instead of the page, and what is not saved would be gone. */
export function keepPage(): void {
  for (const name of ['dragover', 'drop'] as const)
    window.addEventListener(name, (event) => {
      if (!event.dataTransfer?.types.includes('Files') || event.defaultPrevented) return;
      event.preventDefault();
      event.dataTransfer.dropEffect = 'none';
    });
}
