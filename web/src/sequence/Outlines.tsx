import type { Silhouette } from '@oiseau/audio/measure';
import { createContext, memo, useContext, type ReactNode } from 'react';
import { useSilhouettes } from '../api/queries.js';
import type { MasterRecord } from '@oiseau/api';

const OutlinesContext = createContext<ReadonlyMap<string, Silhouette>>(new Map());

/** Outlines of the album's masters, by SHA-256, as far as they have come. */
export function useOutlines(): ReadonlyMap<string, Silhouette> {
  return useContext(OutlinesContext);
}

/** Asks for the outlines when the masters change and not with every edit: there may be a hundred of them. */
export const Outlines = memo(function Outlines({
  masters,
  children,
}: {
  masters: readonly MasterRecord[];
  /** The same element every time. */
  children: ReactNode;
}) {
  return <OutlinesContext value={useSilhouettes(masters)}>{children}</OutlinesContext>;
});
