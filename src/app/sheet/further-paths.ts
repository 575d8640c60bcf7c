import type { FurtherPlace } from './marks';

/** The small signs of one severity on one row, as one drawing: there may be hundreds. */
export interface FurtherPath {
  readonly row: number;
  readonly severity: string;
  /** Where the row’s signs stand, in pixels of the sheet; the path counts from there. */
  readonly top: number;
  readonly d: string;
}

/** A triangle, a diamond or a bar, about 8 px large, as the marks have them. */
function signAt(severity: string, x: number, by: number): string {
  const n = (value: number) => Math.round(value * 10) / 10;
  const up = -3;
  const across = n(4 * by);
  if (severity === 'stop')
    return `M${n(x + 1 - across)} ${up}h${across * 2}l${-across} ${n(5 * by)}z`;
  if (severity === 'caution')
    return `M${n(x + 1)} ${up}l${across} ${across}l${-across} ${across}l${-across} ${-across}z`;
  return `M${n(x - 1)} ${up}h${n(2 * by)}v${n(6 * by)}h${n(-2 * by)}z`;
}

/** @param by how large they are; 1 as they stand, more for those that are looked at */
export function furtherPaths(places: readonly FurtherPlace[], by = 1): FurtherPath[] {
  const found = new Map<
    string,
    { row: number; severity: string; top: number; at: Map<number, string> }
  >();
  for (const { row, severity, x, y } of places) {
    const key = `${row} ${severity}`;
    let group = found.get(key);
    if (!group) found.set(key, (group = { row, severity, top: y, at: new Map() }));
    // Several at one place are one to the eye.
    const pixel = Math.round(x);
    if (!group.at.has(pixel)) group.at.set(pixel, signAt(severity, x, by));
  }
  return [...found.values()].map(({ at, ...group }) => ({
    ...group,
    d: [...at.values()].join(''),
  }));
}
