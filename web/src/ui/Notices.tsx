import { createContext, useCallback, useContext, useMemo, useRef, useState, type ReactNode } from 'react';
import { Button, Toast, ToastContainer } from 'react-bootstrap';
import { errorText, t } from './messages.js';

/** What can be done about something that was told. */
export interface NoticeAction {
  readonly label: string;
  readonly run: () => void;
}

interface Notice {
  readonly id: number;
  readonly text: string;
  readonly trouble: boolean;
  readonly action?: NoticeAction | undefined;
}

export interface Notices {
  /** Tells something, with a way back if there is one. */
  tell(text: string, action?: NoticeAction | undefined): void;
  /** Tells of a failure; stays until it is closed. */
  complain(error: unknown): void;
}

const NoticeContext = createContext<Notices | null>(null);

export function useNotices(): Notices {
  const value = useContext(NoticeContext);
  if (!value) throw new Error('useNotices outside its provider');
  return value;
}

const SHOWN_MS = 8000;

export function NoticeProvider({ children }: { children: ReactNode }) {
  const [notices, setNotices] = useState<readonly Notice[]>([]);
  const next = useRef(1);
  const close = useCallback(
    (id: number) => setNotices((all) => all.filter((notice) => notice.id !== id)),
    [],
  );
  const show = useCallback(
    (notice: Omit<Notice, 'id'>) =>
      setNotices((all) => [...all.slice(-3), { ...notice, id: next.current++ }]),
    [],
  );
  const value = useMemo<Notices>(
    () => ({
      tell: (text, action) => show({ text, trouble: false, action }),
      complain: (error) => show({ text: errorText(error), trouble: true }),
    }),
    [show],
  );
  return (
    <NoticeContext value={value}>
      {children}
      <ToastContainer position="bottom-center" className="notices p-3" aria-live="polite">
        {notices.map(({ id, text, trouble, action }) => (
          <Toast
            key={id}
            onClose={() => close(id)}
            autohide={!trouble}
            delay={SHOWN_MS}
            className={trouble ? 'trouble' : ''}
            role={trouble ? 'alert' : 'status'}
          >
            <Toast.Body className="d-flex align-items-center gap-3">
              <span className="flex-grow-1">{text}</span>
              {action && (
                <Button
                  size="sm"
                  variant="link"
                  onClick={() => {
                    close(id);
                    action.run();
                  }}
                >
                  {action.label}
                </Button>
              )}
              <button type="button" className="btn-close" aria-label={t('Close')} onClick={() => close(id)} />
            </Toast.Body>
          </Toast>
        ))}
      </ToastContainer>
    </NoticeContext>
  );
}
