import type { Stage, StageFigure } from '@oiseau/audio/stages';
import { formatHz, readHz } from './bands.js';
import { Figure } from './Figure.js';
import { MovingFigure } from './MovingFigure.js';
import { say } from '../ui/messages.js';

interface StageFiguresProps {
  readonly stage: Stage<unknown>;
  readonly settings: unknown;
  /** @param key names the figure: edits of one figure in a row are one step */
  readonly onChange: (settings: unknown, key: string) => void;
  readonly onDrag: (settings: unknown) => void;
  readonly onDrop: () => void;
  readonly onTakeBack: () => void;
}

/** The values of a stage: those that may be automated, then its single figures. */
export function StageFigures({ stage, settings, onChange, onDrag, ...ends }: StageFiguresProps) {
  return (
    <>
      {stage.automated(settings).map(({ label: message, value, range, changed }) => {
        const label = say(message);
        return (
          <MovingFigure
            key={label}
            {...{ label, value, range }}
            onChange={(to) => onChange(changed(to), label)}
            onDrag={(to) => onDrag(changed(to))}
            {...ends}
          />
        );
      })}
      {stage.figures.map((figure) => {
        const { label: message, unit, range, step, logarithmic = false, valueOf, changed } = figure;
        const label = say(message);
        return (
          <Figure
            key={label}
            {...{ label, unit, step, logarithmic, value: valueOf(settings) }}
            {...{ least: range[0], most: range[1] }}
            {...wordsOf(figure)}
            onChange={(to) => onChange(changed(settings, to), label)}
            onDrag={(to) => onDrag(changed(settings, to))}
            {...ends}
          />
        );
      })}
    </>
  );
}

/** How a figure is shown and read, where its unit alone does not say it. */
function wordsOf({ unit, off }: StageFigure<unknown>) {
  if (unit !== 'Hz') return {};
  const isOff = (text: string): boolean =>
    off !== undefined && ['', '0', say(off.label)].includes(text.trim().toLowerCase());
  return {
    shown: (hz: number) => (hz === off?.value ? say(off.label) : formatHz(hz)),
    read: (text: string) => (isOff(text) ? (off?.value ?? 0) : readHz(text)),
  };
}
