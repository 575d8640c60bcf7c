import { expect, it } from 'vitest';
import { ferryLamps } from '../../../../demo/own-targets';
import { lampSongs } from '../../../../demo/own-packs';
import { renditionOf, sourceFromBytes } from '../../../../testing/score-builder';
import { unpackFiles } from '../../formats/unpack';
import { rehearse } from '../../standin/index';
import { countFile } from '../../handover/ledger';
import { writeOutputs } from '../index';

it('all files of a format in one pack: read back from it, counted and played', () => {
  const packed = {
    ...ferryLamps,
    formats: ferryLamps.formats!.map((f) => ({ ...f, zip: 'lamps.zip' })),
  };
  const bytes = lampSongs['taken/first-crossing.mid']();
  const rendition = renditionOf(sourceFromBytes(bytes, 'first-crossing.mid'), packed);
  const { files } = writeOutputs(rendition, packed);
  expect(files.map((f) => f.path)).toEqual(['lamps.zip']);
  const inside = unpackFiles(files[0]!.bytes).files!;
  const plain = writeOutputs(rendition, ferryLamps).files[0]!;
  expect([...inside.keys()]).toEqual([plain.path]);
  expect(inside.get(plain.path)).toEqual(plain.bytes);
  expect(countFile(files[0]!, packed).get('notes')).toBe(5);
  const played = rehearse(files, packed);
  expect(played.refused).toEqual([]);
  expect(played.events.map((e) => e.key)).toEqual([48, 50, 52, 59, 48]);
  // A pack that is spoilt is refused, not thrown at.
  const spoilt = [{ ...files[0]!, bytes: files[0]!.bytes.slice(0, 40) }];
  expect(rehearse(spoilt, packed).refused[0]?.file).toBe('lamps.zip');
});
