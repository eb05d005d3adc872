import type { ReactNode } from 'react';
import { Nav, Tab } from 'react-bootstrap';

/** A place whose parts are shown one at a time: `Tabs` and a `TabPanel` stand anywhere in it. @param id of its own in the page */
export function TabPlace<Key extends string>({
  id,
  chosen,
  onChoose,
  children,
}: {
  id: string;
  chosen: Key;
  onChoose: (key: Key) => void;
  children: ReactNode;
}) {
  return (
    <Tab.Container
      generateChildId={(key, type) => `${id}-${type}-${String(key).replace(/\W+/g, '-')}`}
      activeKey={chosen}
      transition={false}
      onSelect={(key) => key !== null && onChoose(key as Key)}
    >
      {children}
    </Tab.Container>
  );
}

/** The parts of a place by their names; arrow keys go from one to the next. */
export function Tabs<Key extends string>({
  label,
  names,
}: {
  label: string;
  names: Readonly<Record<Key, string>>;
}) {
  return (
    <Nav as="div" className="tabs" role="tablist" aria-label={label}>
      {(Object.keys(names) as Key[]).map((key) => (
        <Nav.Link key={key} as="button" type="button" eventKey={key}>
          {names[key]}
        </Nav.Link>
      ))}
    </Nav>
  );
}

/** What is shown of the part that is chosen. */
export function TabPanel({ chosen, children }: { chosen: string; children: ReactNode }) {
  return (
    <Tab.Pane eventKey={chosen} active tabIndex={-1}>
      {children}
    </Tab.Pane>
  );
}
