import { lightTheme } from 'naive-ui';
import { describe, expect, it } from 'vitest';
import { naiveOverrides } from './naive';
import { PALETTES, type Palette } from './tokens';

/** Relative luminance and contrast as WCAG 2.2 defines them. */
function luminance(hex: string): number {
  const channel = (at: number) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  };
  return 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5);
}
function contrast(a: string, b: string): number {
  const [x, y] = [luminance(a), luminance(b)];
  return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
}

type Name = keyof Palette;
/** What text stands on which ground; 4.5 to 1 at least (AA, text below 24 px). */
const TEXT: readonly (readonly [Name, readonly Name[]])[] = [
  ['ink', ['paper', 'page', 'band', 'quillWash', 'ochreWash', 'pill', 'hatchGround']],
  ['ink2', ['paper', 'page', 'band', 'pill']],
  ['quill', ['paper', 'page', 'quillWash']],
  ['wax', ['paper', 'page']],
  ['ochreText', ['page', 'ochreWash', 'paper']],
  ['mossText', ['page', 'paper']],
  ['onQuill', ['quill', 'quillDown']],
  ['onWax', ['wax']],
  ['spineText', ['spine']],
];
/** Borders of what is pressed or typed in, and marks: 3 to 1. */
const SHAPES: readonly (readonly [Name, readonly Name[]])[] = [
  ['edge', ['page', 'paper']],
  ['wax', ['page']],
  ['ochre', ['page']],
  ['lamp', ['page']],
  ['ink2', ['page', 'paper']],
];

describe.each(Object.entries(PALETTES))('%s light', (_, palette) => {
  it.each(TEXT)('%s can be read', (text, grounds) => {
    for (const ground of grounds)
      expect(contrast(palette[text], palette[ground]), ground).toBeGreaterThanOrEqual(4.5);
  });
  it.each(SHAPES)('%s can be seen', (shape, grounds) => {
    for (const ground of grounds)
      expect(contrast(palette[shape], palette[ground]), ground).toBeGreaterThanOrEqual(3);
  });
});

it('no ground of the components stays white where the light is dark', () => {
  const own = naiveOverrides('booth').common as Record<string, string>;
  const given = Object.entries({ ...lightTheme.common, ...own }) as [string, unknown][];
  const white = given.filter(([key, value]) => {
    if (!/Color/.test(key) || typeof value !== 'string') return false;
    const rgb = /^(?:#fff(?:fff)?|rgba?\((\d+), ?(\d+), ?(\d+)(?:, ?1(?:\.0+)?)?\))$/i.exec(value);
    return rgb !== null && [1, 2, 3].every((i) => Number(rgb[i] ?? 255) > 235);
  });
  expect(white.map(([key]) => key)).toEqual([]);
});
it('a tag of what is chosen stands on a ground of ours', () => {
  for (const light of ['paper', 'booth'] as const)
    expect(naiveOverrides(light).Tag).toMatchObject({
      colorBordered: PALETTES[light].pill,
      textColor: PALETTES[light].ink,
    });
});
