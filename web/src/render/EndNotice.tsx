import { BellRing } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';

/** Asks for the system's notices, once, where the browser has them and nobody has answered yet. */
export function EndNotice() {
  const [permission, setPermission] = useState(() =>
    'Notification' in window ? Notification.permission : 'denied',
  );
  if (permission !== 'default') return null;
  return (
    <Button
      variant="link"
      title="A notice of this computer when the last of a render has ended and this window is not in sight"
      onClick={() => void Notification.requestPermission().then(setPermission)}
    >
      <BellRing size={16} aria-hidden /> Tell me when it has ended
    </Button>
  );
}
