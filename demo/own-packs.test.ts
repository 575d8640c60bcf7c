import { describe, expect, it } from 'vitest';
import {
  holdAgainstExamples,
  readTargetPack,
  writeTargetPack,
  type TargetPack,
} from '../src/core/handover/target-pack';
import { packFiles } from '../src/core/outputs/pack';
import { withValue, type Data } from '../src/core/target/sentences';
import type { Target } from '../src/core/target/schema';
import { encodeUtf8 } from '../src/core/smf/text';
import { ownPacks } from './own-packs';

const packs = Object.entries(ownPacks).map(([name, make]) => ({ name, pack: make() }));

describe('targets with their own proof', () => {
  it.each(packs)('$name: all its examples are as they are said to be', ({ pack }) => {
    const { pack: read, problems } = readTargetPack(writeTargetPack(pack));
    expect(problems).toEqual([]);
    expect(read!.target).toEqual(pack.target);
    const results = holdAgainstExamples(read!);
    expect(results).toHaveLength(5);
    expect(results.filter((r) => !r.ok)).toEqual([]);
    expect(results.at(-1)!.says).toBe('written identical');
  });

  const broken = (pack: TargetPack, path: string, value: unknown) =>
    holdAgainstExamples({
      ...pack,
      target: withValue(pack.target as unknown as Data, path, value) as unknown as Target,
    }).filter((r) => !r.ok);
  it('a change that breaks an example is told: which, and how', () => {
    const { pack } = packs[0]!;
    expect(broken(pack, 'start', undefined).map((r) => r.file)).toEqual(['refused/too-early.mid']);
    expect(broken(pack, 'start.leadInMs', 5000).map((r) => r.what)).toEqual(['taken', 'taken']);
    expect(broken(pack, 'limits', undefined).map((r) => r.says)[0]).toContain(
      '“Too many steps on one stone” was not found; found: no stop',
    );
    const files = [{ ...pack.target.formats![0]!.files[0]!, lineEnd: 'crlf' }];
    const formats = [{ ...pack.target.formats![0]!, files }];
    expect(broken(pack, 'formats', formats).map((r) => r.says)).toEqual([
      expect.stringMatching(/differs at byte 1$/),
    ]);
  });

  it('a pack that is no pack is refused with what is wrong', () => {
    const { pack } = packs[0]!;
    const says = (files: [string, Uint8Array][]) =>
      readTargetPack(packFiles(files.map(([path, bytes]) => ({ path, bytes })))).problems.join();
    const target: [string, Uint8Array] = ['target.json', encodeUtf8(JSON.stringify(pack.target))];
    const listed = (more: object): [string, Uint8Array] => [
      'examples.json',
      encodeUtf8(JSON.stringify({ packVersion: 1, taken: [], refused: [], pairs: [], ...more })),
    ];
    expect(says([])).toContain('holds no target.json');
    expect(says([['target.json', encodeUtf8('{')]])).toContain('not JSON');
    expect(says([target, listed({ taken: [{ file: 'a.mid' }] })])).toContain('holds no a.mid');
    expect(says([target, listed({ taken: [{ file: '../a.mid' }] })])).toContain('taken[0].file');
    expect(says([target, listed({}), ['b.mid', encodeUtf8('x')]])).toContain(
      'No example names b.mid',
    );
    expect(says([target, listed({ packVersion: 2 })])).toContain('packVersion');
    expect(readTargetPack(encodeUtf8('PK nothing')).problems[0]).toContain('not a pack');
    // A target alone is one without examples.
    expect(readTargetPack(target[1]).pack?.target.id).toBe('heron-steps');
  });
});
