import { describe, expect, it } from 'vitest';
import { brokenLaw1, deliver, stopsOf } from '../../../testing/rehearsing';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { testStep } from '../../../testing/step-tester';
import { laneParams, parseScheme, schemes, SchemeSchema } from '../target/scheme';

const ladder = builtIn('reed-ladder');
const scheme = schemes.find((s) => s.target === 'reed-ladder')!;
const { params } = laneParams(scheme, ladder);
/** Rung 1 on 36 and 37, rung 5 from 84; feather over the second; 20 is nobody’s. */
const foreign = song([
  conductor(),
  new Track('Chanter')
    .note(1, 3840, 240, 36, 90)
    .note(1, 4800, 240, 37, 90)
    .note(1, 4800, 480, 108, 1)
    .note(1, 5760, 240, 84, 80)
    .note(1, 6720, 240, 20, 70),
]);

testStep('read-lanes', [
  {
    name: 'lanes go to their seats, flags to their notes, the rest is kept and said',
    source: foreign,
    params,
    effect: { notesChanged: 3 },
    expect: (r) => {
      const { score, flags } = r.pieces[0]!;
      const seats = score.parts
        .filter((p) => !p.leftOut && p.notes.count > 0)
        .map((p) => [p.seat, p.channel, [...p.notes.noteNumber]]);
      expect(seats).toEqual([
        ['chanter-1', 11, [48, 50]],
        ['chanter-5', 15, [48]],
      ]);
      expect(flags).toMatchObject([{ flag: 'feather' }]);
      expect(flags![0]!.notes.size).toBe(1);
      const left = score.parts.find((p) => p.leftOut)!;
      expect([...left.notes.noteNumber]).toEqual([108, 20]);
    },
  },
  {
    name: 'nothing on its keys',
    source: song([conductor(), new Track('Chanter').note(1, 0, 480, 10, 90)]),
    params,
    refused: /No note stands on a key/,
  },
  {
    name: 'another track',
    source: song([conductor(), new Track('Gulls').note(1, 0, 480, 36, 90)]),
    params,
    refused: /No note stands on a key/,
  },
]);

describe('reading schemes', () => {
  it('those that ship are valid and fit their targets', () => {
    for (const s of schemes) {
      expect(SchemeSchema.safeParse(s).success).toBe(true);
      expect(laneParams(s, builtIn(s.target)).problem).toBeUndefined();
    }
  });
  it('a chart that was read goes out as the ladder takes it, with its flag', () => {
    const steps = [{ key: 'read', step: 'read-lanes', params, scope: {}, on: true }];
    const delivered = deliver(foreign, ladder, { steps });
    expect(stopsOf(delivered)).toEqual([]);
    expect(brokenLaw1(delivered)).toEqual([]);
    expect(delivered.played.events.map((e) => [e.seat, e.key, e.text])).toEqual([
      ['chanter-1', 1, '240'],
      ['chanter-1', 2, '240 feather'],
      ['chanter-5', 1, '240'],
    ]);
  });
  it.each([
    ['{', /not JSON/],
    ['{ "schemeVersion": 1, "idd": "x" }', /nearest known key is "id"|missing/],
    [JSON.stringify({ ...scheme, rows: [] }), /rows: At least 1 entries/],
  ])('%s', (text, says) => expect(parseScheme(text).problem).toMatch(says));
  it('a seat that is not there is said', () => {
    expect(laneParams(scheme, builtIn('marsh-duel')).problem).toMatch(/has no seat chanter-1/);
  });
});
