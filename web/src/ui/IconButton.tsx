import { Moon, Sun, type LucideIcon } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useTheme } from './theme.js';
import { t } from './messages.js';

interface IconButtonProps {
  readonly icon: LucideIcon;
  /** What it does, for those who can't see the picture. */
  readonly label: string;
  /** A longer hint on hovering; the label when left out. */
  readonly hint?: string;
  readonly disabled?: boolean;
  readonly onClick: () => void;
}

/** A button that is only a picture. */
export function IconButton({ icon: Icon, label, hint = label, disabled = false, onClick }: IconButtonProps) {
  return (
    <Button
      variant="link"
      className="icon-button"
      disabled={disabled}
      onClick={onClick}
      aria-label={label}
      title={hint}
    >
      <Icon size={18} aria-hidden />
    </Button>
  );
}

/** Switches between the light surface and the dim one. */
export function ThemeButton() {
  const [theme, setTheme] = useTheme();
  const light = theme === 'light';
  return (
    <IconButton
      icon={light ? Moon : Sun}
      label={light ? t('Use the dim theme') : t('Use the light theme')}
      onClick={() => setTheme(light ? 'dark' : 'light')}
    />
  );
}
