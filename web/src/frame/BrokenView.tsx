import { TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { Link, useLocation } from 'react-router';
import { t } from '../ui/messages.js';

/** The code of a view could not be loaded: the connection broke, or an update has replaced it since the page was opened. */
export class ViewNotLoaded extends Error {
  override readonly name = 'ViewNotLoaded';
  constructor(cause: unknown) {
    super(cause instanceof Error ? cause.message : String(cause), { cause });
  }
}

/** A view that throws says what has happened, and leaves everything around it working; another address, or another try, begins anew. */
export function ViewBoundary({ children }: { readonly children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={BrokenView} resetKeys={[pathname]}>
      {children}
    </ErrorBoundary>
  );
}

function BrokenView({ error, resetErrorBoundary }: FallbackProps) {
  const isMissing = error instanceof ViewNotLoaded;
  return (
    <div className="empty" role="alert">
      <p className="empty-lead">
        <TriangleAlert size={22} aria-hidden /> {t('This view stopped working.')}
      </p>
      <p>
        {isMissing
          ? t(
              'It couldn’t be loaded. The connection failed, or Oiseau was updated after this page was opened.',
            )
          : t('An error occurred here. The other views still work, and your edits are kept.')}
      </p>
      <p className="text-secondary">{error instanceof Error ? error.message : String(error)}</p>
      <Button onClick={resetErrorBoundary}>{t('Try again')}</Button>{' '}
      <Button variant="outline-primary" onClick={() => window.location.reload()}>
        {t('Reload the page')}
      </Button>{' '}
      <Link to="/" className="btn btn-link">
        {t('Back to the Shelf')}
      </Link>
    </div>
  );
}

/** An address that leads nowhere says so. */
export function NothingHere() {
  const { pathname } = useLocation();
  return (
    <main className="lone-message">
      <div>
        <p role="alert">{t('No page exists at {pathname}.', { pathname })}</p>
        <Link to="/">{t('Back to the Shelf')}</Link>
      </div>
    </main>
  );
}
