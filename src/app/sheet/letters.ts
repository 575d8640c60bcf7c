/** The faces of the sheet. */
export const SANS = "'IBM Plex Sans', sans-serif";
export const SERIF = "'Source Serif 4', serif";

/** Every face that the sheet writes in; a canvas does not ask for them by itself. */
const FACES = ['italic 13px "Source Serif 4"', '12px "IBM Plex Sans"', '600 11px "IBM Plex Sans"'];

let asked: Promise<unknown> | null = null;
let there = false;

export const lettersThere = (): boolean => there;

/** Resolves once the faces can be drawn with, or cannot be had. */
export const letters = (): Promise<unknown> =>
  (asked ??= Promise.all(FACES.map((face) => document.fonts.load(face)))
    .catch(() => undefined)
    .then(() => (there = true)));
