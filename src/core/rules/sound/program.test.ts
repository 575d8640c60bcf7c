import { barrel, piece, one } from '../../../../testing/songs';
import { testRule } from '../../../../testing/rule-tester';
import { Track, song, conductor, builtIn, targetWith } from '../../../../testing/score-builder';
import { program } from './program';

const seat1 = (...programs: [number, number][]) => {
  const track = new Track('Brass').note(1, 480, 60, 60, 90);
  for (const [tick, n] of programs) track.program(tick, 1, n);
  return song([conductor(), track], { ppq: 60 });
};

testRule(program, {
  valid: [
    { name: 'one of the seat, at 0', target: barrel, source: seat1([0, 61]) },
    { name: 'none for the parlour', target: builtIn('parlour-keyboard'), source: piece(one()) },
    {
      name: 'one at its first note',
      target: builtIn('parlour-keyboard'),
      source: song([conductor(), new Track('A').program(480, 1, 3).note(1, 480, 9, 60, 9)]),
    },
  ],
  invalid: [
    { name: 'none', code: 'program-missing', target: barrel, source: seat1() },
    {
      name: 'none, of a seat that takes any',
      code: 'program-missing',
      target: targetWith({ events: { programs: 'of-seat' } }),
      source: piece(one()),
      lossless: [true],
    },
    {
      name: 'none of the seat',
      code: 'program-not-there',
      target: barrel,
      source: seat1([0, 98]),
      measured: 98,
    },
    {
      name: 'counted from 1',
      code: 'program-off-by-one',
      target: barrel,
      source: seat1([0, 62]),
      measured: 62,
      lossless: [false],
    },
    {
      name: 'two',
      code: 'program-again',
      target: barrel,
      source: seat1([0, 61], [500, 58]),
      measured: 2,
    },
    {
      name: 'at tick 1',
      code: 'program-late',
      target: barrel,
      source: seat1([1, 61]),
      measured: 1,
      lossless: [true],
    },
    {
      name: 'behind the first note',
      code: 'program-late',
      target: builtIn('parlour-keyboard'),
      source: song([conductor(), new Track('A').program(481, 1, 3).note(1, 480, 9, 60, 9)]),
      measured: 481,
    },
  ],
});
