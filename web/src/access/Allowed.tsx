import type { Right } from '@oiseau/api';
import { Navigate, Outlet } from 'react-router';
import { useMay } from './VisitorContext.js';

/** The pages below it are for those whose key allows them; others come to `instead`. */
export function Allowed({ right, instead }: { right: Right; instead: string }) {
  return useMay(right) ? <Outlet /> : <Navigate to={instead} replace />;
}
