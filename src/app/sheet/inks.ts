/** Parts are told apart by ink and by texture, never by colour alone. */
export type Texture = 'filled' | 'outlined' | 'hatched' | 'dotted';

const PAPER_INKS = ['#7a2e55', '#2e4a7d', '#7a4b1e', '#4d5b2f', '#5b4a86', '#9a4128'] as const;
const BOOTH_INKS = ['#d99ab9', '#9fbbea', '#d8ab78', '#b7c490', '#b9a8e2', '#e79c83'] as const;
const TEXTURES: readonly Texture[] = ['filled', 'outlined', 'hatched', 'dotted'];

export interface Ink {
  readonly colour: string;
  readonly texture: Texture;
}

export function inkOf(index: number, light: 'paper' | 'booth'): Ink {
  const inks = light === 'paper' ? PAPER_INKS : BOOTH_INKS;
  return {
    colour: inks[index % inks.length]!,
    texture: TEXTURES[(index + Math.floor(index / inks.length)) % TEXTURES.length]!,
  };
}

/** Colours of the sheet, which a canvas cannot take from the style sheet. */
export const SHEET_COLOURS = {
  paper: {
    page: '#fffdf8',
    line: '#d9cfbb',
    beat: '#ebe4d4',
    ink: '#1d2433',
    ink2: '#4a5160',
    faint: '#b9b1a0',
    hatch: '#dcc694',
    hatchGround: '#f8eed6',
    select: '#b3392f',
    selectWash: 'rgb(179 57 47 / 10%)',
    pill: '#efe7d8',
    pillText: '#4a5160',
    flag: '#2e4a7d',
    flagText: '#fffdf8',
    hatchText: '#6b4a10',
  },
  booth: {
    page: '#20232b',
    line: '#3a3e48',
    beat: '#2b2f38',
    ink: '#e9e1d0',
    ink2: '#b4ae9f',
    faint: '#5b5f69',
    hatch: '#5a4c30',
    hatchGround: '#2c2820',
    select: '#e5786b',
    selectWash: 'rgb(229 120 107 / 14%)',
    pill: '#2f333d',
    pillText: '#b4ae9f',
    flag: '#8fb0e8',
    flagText: '#15171c',
    hatchText: '#e3b761',
  },
} as const;
