import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';

/** A song this far from both of its neighbours is asked about, LU. */
const APART_LU = 4;

/** No peak is lifted over full scale, and no song stands out in loudness from those around it. */
export const levels: Rule = (subject) =>
  heardRegions(subject).flatMap((region): Finding[] => {
    const { song: of, before, after } = region;
    const song = of.id;
    const found: Finding[] = [];
    const peakDbfs = region.figures?.samplePeakDbfs ?? null;
    // An unprocessed master at full scale passes bit-perfect.
    if (peakDbfs !== null && peakDbfs > 0.005)
      found.push({ code: 'over-full-scale', severity: 'warning', song, peakDbfs });
    const lufs = region.figures?.integratedLufs ?? null;
    const around = [before, after].flatMap((other) => other?.figures?.integratedLufs ?? []);
    if (lufs === null || around.length === 0) return found;
    const differences = around.map((other) => lufs - other);
    const nearest = differences.reduce((a, b) => (Math.abs(b) < Math.abs(a) ? b : a));
    const oneWay = differences.every((by) => Math.sign(by) === Math.sign(nearest));
    if (oneWay && Math.abs(nearest) > APART_LU)
      found.push({ code: 'loudness-apart', severity: 'hint', song, lufs, by: nearest });
    return found;
  });
