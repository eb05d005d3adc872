import { TriangleAlert } from 'lucide-react';
import { Link } from 'react-router';
import { useHealth } from '../api/queries.js';
import { useMay } from './VisitorContext.js';
import { t } from '../ui/messages.js';

/** One line about problems of the installation. */
export function HealthLine() {
  const works = useMay('work');
  const looks = useMay('keys');
  const { data } = useHealth(works);
  const [first, ...more] = data?.troubles ?? [];
  if (!works || first === undefined) return null;
  return (
    <p className="health-line" role="status">
      <TriangleAlert size={16} aria-hidden />{' '}
      {more.length > 0 ? t('{first} (and {count} more)', { first, count: more.length }) : first}{' '}
      {looks && <Link to="/keeping">{t('Show storage')}</Link>}
    </p>
  );
}
