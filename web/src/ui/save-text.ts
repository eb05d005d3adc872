/** Lets the browser save a text as a file. */
export function saveText(name: string, type: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type }));
  Object.assign(document.createElement('a'), { href: address, download: name }).click();
  URL.revokeObjectURL(address);
}
