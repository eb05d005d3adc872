import type { LucideIcon } from 'lucide-react';
import type { ReactNode } from 'react';
import { Dropdown, type DropdownProps } from 'react-bootstrap';

interface IconMenuProps extends Pick<
  DropdownProps,
  'autoClose' | 'className' | 'drop' | 'onToggle' | 'show'
> {
  readonly icon: LucideIcon;
  readonly size?: number;
  /** What a screen reader calls it. */
  readonly label: string;
  /** Left out: the label. */
  readonly title?: string | undefined;
  readonly toggleClass?: string;
  readonly menuClass?: string;
  readonly children: ReactNode;
}

/** A menu behind an icon. @param children its items */
export function IconMenu({
  icon: Icon,
  size = 18,
  label,
  title = label,
  toggleClass = '',
  menuClass = '',
  children,
  ...dropdown
}: IconMenuProps) {
  return (
    <Dropdown align="end" {...dropdown}>
      <Dropdown.Toggle
        variant="link"
        className={`icon-button ${toggleClass}`.trim()}
        aria-label={label}
        title={title}
      >
        <Icon size={size} aria-hidden />
      </Dropdown.Toggle>
      <Dropdown.Menu className={menuClass}>{children}</Dropdown.Menu>
    </Dropdown>
  );
}
