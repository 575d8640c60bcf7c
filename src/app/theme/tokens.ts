/** The lights that the desk can be seen in. */
export type Light = 'paper' | 'booth';

/** Every colour of the interface, by light; style sheets know them as `--name`. */
const paper = {
  paper: '#f6f1e7',
  page: '#fffdf8',
  band: '#efe7d8',
  line: '#d9cfbb',
  ink: '#1d2433',
  ink2: '#4a5160',
  quill: '#2e4a7d',
  onQuill: '#fffdf8',
  quillWash: '#e7e9f1',
  wax: '#b3392f',
  onWax: '#fffdf8',
  ochre: '#b7791f',
  ochreText: '#6b4a10',
  ochreWash: '#f7ead0',
  moss: '#4a6b4f',
  mossText: '#3f5d44',
  lamp: '#9a6b00',
  gold: '#e0b04c',
  spine: '#1d2433',
  spineText: '#d6d9e0',
  hatch: '#e2cfa4',
  hatchGround: '#f6e9cb',
  faint: '#b9b1a0',
  scrim: 'rgb(29 36 51 / 45%)',
  quillUp: '#3d5c94',
  quillDown: '#24396a',
  beat: '#ebe4d4',
  edge: '#8f8570',
  pill: '#efe7d8',
  waxWash: 'rgb(179 57 47 / 10%)',
};
export type Palette = Readonly<typeof paper>;

const booth: Palette = {
  paper: '#15171c',
  page: '#20232b',
  band: '#1a1d24',
  line: '#3a3e48',
  ink: '#e9e1d0',
  ink2: '#b4ae9f',
  quill: '#8fb0e8',
  onQuill: '#15171c',
  quillWash: '#2a3346',
  wax: '#e5786b',
  onWax: '#15171c',
  ochre: '#e3b761',
  ochreText: '#e3b761',
  ochreWash: '#3a3122',
  moss: '#8fb996',
  mossText: '#8fb996',
  lamp: '#e3b761',
  gold: '#e0b04c',
  spine: '#0f1115',
  spineText: '#b4ae9f',
  hatch: '#5a4c30',
  hatchGround: '#2c2820',
  faint: '#5b5f69',
  scrim: 'rgb(0 0 0 / 60%)',
  quillUp: '#a5c0ee',
  quillDown: '#7598d4',
  beat: '#2b2f38',
  edge: '#757b88',
  pill: '#2f333d',
  waxWash: 'rgb(229 120 107 / 14%)',
};

export const PALETTES: Readonly<Record<Light, Palette>> = { paper, booth };

const kebab = (name: string) => name.replace(/[A-Z]|\d/g, (c) => `-${c.toLowerCase()}`);

/** Gives the style sheets the colours of a light. */
export function shineOn(root: HTMLElement, light: Light): void {
  for (const [name, value] of Object.entries(PALETTES[light]))
    root.style.setProperty(`--${kebab(name)}`, value);
  root.style.colorScheme = light === 'paper' ? 'light' : 'dark';
  root.dataset['light'] = light;
}
