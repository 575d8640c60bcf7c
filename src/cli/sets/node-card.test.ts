import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesOfWanted, sha, someTurns, wantedSong } from '../../../testing/card';
import { writeCard } from '../../core/sets/write-card';
import { NodeCard } from './node-card';

describe('a folder of this machine', () => {
  it('given up anywhere, the folders that were made for it are gone too', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'quill-card-'));
    try {
      for (let at = 0; at < 6; at++) {
        let asked = 0;
        const call = writeCard(new NodeCard(folder), {
          set: { id: 's', title: 'Quay' },
          card: 'Friday',
          day: '2031-05-04',
          wanted: [
            wantedSong('a', { 'deep/deeper/a.mid': 'one', 'deep/b.mid': 'two' }),
            wantedSong('b', { 'deep/deeper/c.mid': 'three', 'new/d.mid': 'four' }),
            wantedSong('c', { 'new/e.mid': 'five', 'f.mid': 'six' }),
          ],
          bytesOf: async (song, file) => {
            await someTurns(file.sha256.charCodeAt(0));
            return bytesOfWanted(song, file);
          },
          removeGone: false,
          overTheirs: new Set(),
          sha256: sha,
          givenUp: () => ++asked > at,
        });
        await expect(call).rejects.toThrow(/given up/);
        expect(readdirSync(folder), `given up at ${at}`).toEqual([]);
      }
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});
