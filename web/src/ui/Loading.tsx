import { Spinner } from 'react-bootstrap';

/** A turning wheel whose text is announced by screen readers: `Loading the Shelf` */
export function Loading({ children }: { children: string }) {
  return (
    <Spinner role="status">
      <span className="visually-hidden">{children}</span>
    </Spinner>
  );
}
