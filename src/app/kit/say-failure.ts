/** What a browser says where a part of the page, a style or an answer did not come over the network. */
const NOT_LOADED =
  /dynamically imported module|preload css|failed to fetch|load failed|networkerror|importing a module script failed|could not be loaded/i;

export const NOT_REACHED =
  'A part of Wary Quill could not be loaded: its server does not answer, or was given another version. ' +
  'What you did is kept. Load the page again when it answers.';

/** A failure as a sentence: never what a browser says to programmers. */
export function sayFailure(error: unknown): string {
  const says = error instanceof Error ? error.message : String(error);
  if (NOT_LOADED.test(says)) return NOT_REACHED;
  const stop = /[.!?]$/.test(says) ? '' : '.';
  return `Something inside failed: ${says}${stop} Save the job as a file, and load the page again.`;
}
