import { BellRing } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { t } from '../ui/messages.js';

/** Asks for the system's notices, once, where the browser supports them and hasn't asked before. */
export function EndNotice() {
  const [permission, setPermission] = useState(() =>
    'Notification' in window ? Notification.permission : 'denied',
  );
  if (permission !== 'default') return null;
  return (
    <Button
      variant="link"
      title={t('Shows a system notification when rendering is done and this window is hidden')}
      onClick={() => void Notification.requestPermission().then(setPermission)}
    >
      <BellRing size={16} aria-hidden /> {t('Notify me when done')}
    </Button>
  );
}
