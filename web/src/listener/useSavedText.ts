import { useCallback, useEffect, useRef, useState } from 'react';

/** Pause in typing before the text is sent, ms. */
const REST_MS = 700;
const AGAIN_MS = 4000;

/**
 * A text that is sent by itself while it is typed, and at the latest when the field is left or the page goes; a failure is tried again
 * as long as the page is there.
 * @param save @throws Error in a sentence
 */
export function useSavedText(kept: string, save: (text: string) => Promise<void>) {
  const [text, setText] = useState(kept);
  const [trouble, setTrouble] = useState<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef({ text, sent: kept, save });
  useEffect(() => {
    latest.current.save = save;
  });
  const send = useCallback((): void => {
    clearTimeout(timer.current);
    const { text: now, sent, save: keep } = latest.current;
    if (now === sent) return;
    latest.current.sent = now;
    keep(now).then(
      () => setTrouble(null),
      (error: unknown) => {
        latest.current.sent = sent;
        setTrouble(error instanceof Error ? error.message : String(error));
        timer.current = setTimeout(send, AGAIN_MS);
      },
    );
  }, []);
  useEffect(() => {
    window.addEventListener('pagehide', send);
    return () => {
      window.removeEventListener('pagehide', send);
      send();
    };
  }, [send]);
  const type = (typed: string): void => {
    setText(typed);
    latest.current.text = typed;
    clearTimeout(timer.current);
    timer.current = setTimeout(send, REST_MS);
  };
  return { text, trouble, type, send };
}
