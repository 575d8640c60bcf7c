/** C0 and DEL: no board shows them, and some end a line. */

const CONTROLS = /[\u0000-\u001f\u007f]+/g;

/**
 * A caption as it is kept: its lines trimmed, none of them empty, no half of a letter. Empty where it
 * has no words.
 */
export const captionText = (text: string): string =>
  text
    .split(/\r\n?|\n/)
    .map((line) =>
      line
        .replace(CONTROLS, ' ')
        .replace(/\p{Surrogate}/gu, '\ufffd')
        .trim(),
    )
    .filter((line) => line !== '')
    .join('\n');
