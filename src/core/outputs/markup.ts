const ESCAPED: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** XML 1.0, 2.2 "Characters": what a document may hold; names in files hold others, too. */

const NO_CHARACTER = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** Any text as text of a page or a drawing; a letter that there is not in one becomes a space. */
export const markup = (text: string): string =>
  text.replace(NO_CHARACTER, ' ').replace(/[&<>"']/g, (c) => ESCAPED[c]!);
