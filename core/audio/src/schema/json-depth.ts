/** Whether objects and lists of a JSON text are nested deeper than `most`: its parser takes seconds for a million brackets. One pass, no parsing. */
export function isDeeperThan(text: string, most: number): boolean {
  let depth = 0;
  let inText = false;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (inText) {
      if (code === BACKSLASH) i++;
      else if (code === QUOTE) inText = false;
    } else if (code === QUOTE) inText = true;
    else if (code === OPEN_LIST || code === OPEN_OBJECT) {
      if (++depth > most) return true;
    } else if (code === CLOSE_LIST || code === CLOSE_OBJECT) depth--;
  }
  return false;
}

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const OPEN_LIST = 0x5b;
const CLOSE_LIST = 0x5d;
const OPEN_OBJECT = 0x7b;
const CLOSE_OBJECT = 0x7d;
