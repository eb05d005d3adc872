import { TriangleAlert } from 'lucide-react';
import { Link } from 'react-router';
import { useHealth } from '../api/queries.js';
import { useMay } from './VisitorContext.js';

/** One line about problems of the installation. */
export function HealthLine() {
  const works = useMay('work');
  const looks = useMay('keys');
  const { data } = useHealth(works);
  const [first, ...more] = data?.troubles ?? [];
  if (!works || first === undefined) return null;
  return (
    <p className="health-line" role="status">
      <TriangleAlert size={16} aria-hidden /> {first}
      {more.length > 0 && ` (and ${more.length} more)`} {looks && <Link to="/keeping">Show storage</Link>}
    </p>
  );
}
