import { mayDo, type Right, type Visitor } from '@oiseau/api';
import { createContext, useContext } from 'react';

export const VisitorContext = createContext<Visitor | null>(null);

/** Who has come in, by the key that was shown. */
export function useVisitor(): Visitor {
  const visitor = useContext(VisitorContext);
  if (!visitor) throw new Error('useVisitor outside the gate');
  return visitor;
}

/** Whether the key allows something; what it does not allow is not offered. */
export const useMay = (right: Right): boolean => mayDo(useVisitor().role, right);
