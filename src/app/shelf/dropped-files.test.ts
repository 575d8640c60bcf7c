import { describe, expect, it } from 'vitest';
import { droppedFiles } from './dropped-files';

type Tree = { readonly [name: string]: Tree | null };

/** Entries as a browser gives them: folders in portions of two. */
function entry(name: string, tree: Tree | null): FileSystemEntry {
  if (tree === null)
    return {
      name,
      isFile: true,
      isDirectory: false,
      file: (done: (f: File) => void) => done(new File(['x'], name)),
    } as never;
  const all = Object.entries(tree).map(([n, t]) => entry(n, t));
  return {
    name,
    isFile: false,
    isDirectory: true,
    createReader: () => {
      let at = 0;
      return {
        readEntries: (done: (list: FileSystemEntry[]) => void) => done(all.slice(at, (at += 2))),
      };
    },
  } as never;
}
const transfer = (entries: (FileSystemEntry | null)[], files: File[]): DataTransfer =>
  ({ items: entries.map((e) => ({ webkitGetAsEntry: () => e })), files }) as never;

describe('what is dropped', () => {
  it('files alone are taken as they are', async () => {
    const files = [new File(['x'], 'a.txt'), new File(['x'], 'b.mid')];
    expect(await droppedFiles(transfer([null, null], files))).toEqual({ files });
    expect(await droppedFiles(null)).toEqual({ files: [] });
  });
  it('of a folder every chart and song below it, in order; receipts and the rest stay', async () => {
    const folder = entry('charts', {
      'z.chart.json': null,
      'receipt.json': null,
      'notes.txt': null,
      deep: { 'b.mid': null, 'a.mid': null, empty: {} },
      'a.chart.json': null,
    });
    const taken = await droppedFiles(transfer([folder], [new File([], 'charts')]));
    expect(taken.skipped).toBe(2);
    expect(taken.files.map((f) => f.name)).toEqual([
      'a.chart.json',
      'a.mid',
      'b.mid',
      'z.chart.json',
    ]);
  });
});
