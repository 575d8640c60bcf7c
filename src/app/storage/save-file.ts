/** Hands bytes to the browser as a download. */
export function saveFile(bytes: Uint8Array, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The download has its own hold on the data once it began.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

const TYPES: Readonly<Record<string, string>> = {
  mid: 'audio/midi',
  json: 'application/json',
  csv: 'text/csv',
  vtt: 'text/vtt',
  svg: 'image/svg+xml',
  wav: 'audio/wav',
  html: 'text/html',
};

/** The media type of a delivered file, by its ending. */
export const typeOf = (path: string): string =>
  TYPES[path.split('.').at(-1)!.toLowerCase()] ?? 'application/octet-stream';
