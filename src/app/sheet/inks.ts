import { PALETTES, type Light } from '../theme/tokens';

/** Parts are told apart by ink and by texture, never by colour alone. */
export type Texture = 'filled' | 'outlined' | 'hatched' | 'dotted';

const PAPER_INKS = ['#7a2e55', '#2e4a7d', '#7a4b1e', '#4d5b2f', '#5b4a86', '#9a4128'] as const;
const BOOTH_INKS = ['#d99ab9', '#9fbbea', '#d8ab78', '#b7c490', '#b9a8e2', '#e79c83'] as const;
const TEXTURES: readonly Texture[] = ['filled', 'outlined', 'hatched', 'dotted'];

export interface Ink {
  readonly colour: string;
  readonly texture: Texture;
}

export function inkOf(index: number, light: Light): Ink {
  const inks = light === 'paper' ? PAPER_INKS : BOOTH_INKS;
  return {
    colour: inks[index % inks.length]!,
    texture: TEXTURES[(index + Math.floor(index / inks.length)) % TEXTURES.length]!,
  };
}

/** Colours of the sheet, which a canvas cannot take from the style sheet. */
function sheetColours(light: Light) {
  const c = PALETTES[light];
  return {
    page: c.page,
    line: c.line,
    beat: c.beat,
    ink: c.ink,
    ink2: c.ink2,
    faint: c.faint,
    wave: c.ink2,
    waveGround: c.band,
    hatch: c.hatch,
    hatchGround: c.hatchGround,
    hatchText: c.ochreText,
    select: c.wax,
    selectWash: c.waxWash,
    pill: c.pill,
    pillText: c.ink2,
    flag: c.quill,
    flagText: c.onQuill,
    lamp: c.lamp,
  };
}

export const SHEET_COLOURS = { paper: sheetColours('paper'), booth: sheetColours('booth') };
