import { piece, one, at } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { Track, targetWith } from '../../../../testing/score-builder';
import { fileSize } from './file-size';

/** Eight notes, a bend of each that glides up and back, a swell on controller 11. */
const gliding = () => {
  const track = new Track('Line');
  for (let n = 0; n < 8; n++) {
    const from = n * 1920;
    track.note(1, from, 1900, 60 + n, 60 + n);
    for (let i = 0; i < 40; i++) {
      const up = Math.round(8192 + 4000 * Math.sin((i / 39) * Math.PI));
      track.event(from + 10 + i * 40, 0xe0, 1, up & 127, up >> 7);
      track.control(from + 20 + i * 40, 1, 11, 40 + Math.round(i / 2));
    }
  }
  return piece(track);
};
const holds = (mostBytes: number) => targetWith({ file: { mostBytes } });

testRule(fileSize, {
  valid: [
    { name: 'room enough', target: targetWith({ file: { mostBytes: 200 } }), source: piece(one()) },
  ],
  invalid: [
    {
      name: 'too large',
      code: 'file-large',
      target: targetWith({ file: { mostBytes: 100 } }),
      source: piece(
        at(...Array.from({ length: 20 }, (_, i): [number, number, number] => [i * 480, 9, 60])),
      ),
    },
    {
      name: 'bends and controllers make it large: thinned as little as makes room',
      code: 'file-large',
      target: holds(2000),
      source: gliding(),
    },
    {
      name: 'thinned as far as may be, and still too large: the weakest notes go for the rest',
      code: 'file-large',
      target: holds(520),
      source: gliding(),
    },
  ],
});
