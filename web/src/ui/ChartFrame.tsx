import type { ReactElement, ReactNode } from 'react';
import { ResponsiveContainer } from 'recharts';

const HEIGHT = 168;
/** Room around every chart, so that their axes stand under each other. */
export const CHART_MARGIN = { top: 6, right: 8, bottom: 0, left: -12 } as const;

interface ChartFrameProps {
  readonly title: string;
  readonly legend?: ReactNode;
  /** A chart of Recharts, or a sentence in its place. */
  readonly children: ReactElement;
}

/** A chart with its title and what its lines stand for. */
export function ChartFrame({ title, legend, children }: ChartFrameProps) {
  const isText = typeof children.type === 'string';
  return (
    <section className="chart" aria-label={title}>
      <header>
        <h3>{title}</h3>
        {legend && <span className="text-secondary">{legend}</span>}
      </header>
      {isText ? (
        children
      ) : (
        <ResponsiveContainer width="100%" height={HEIGHT}>
          {children}
        </ResponsiveContainer>
      )}
    </section>
  );
}
