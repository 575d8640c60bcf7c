import { expect, it } from 'vitest';
import { laidSource } from '../../../testing/laid';
import { builtIn, conductor, song, Track } from '../../../testing/score-builder';
import { effectsOf } from './preset-effects';

it('what a preset switches on, what is pressed since, the expression and the delay in tempo', () => {
  const box = builtIn('brine-box');
  // B2 has 82 and 81 on; at 120 BPM a quarter is 480 ticks and 500 ms.
  const track = new Track('Foot')
    .control(0, 9, 0, 1)
    .program(0, 9, 1)
    .control(480, 9, 80, 127)
    .control(960, 9, 82, 0)
    .control(960, 9, 11, 0)
    .control(1440, 9, 93, 3)
    .program(1920, 9, 1)
    .control(2000, 9, 11, 127);
  const piece = laidSource(song([conductor(120).tempo(1920, 60), track]), box);
  const at = effectsOf(piece.parts[0]!.turns, box, piece.clock)!;
  expect(at(0)).toEqual({
    drive: false,
    tremolo: true,
    delay: true,
    filter: false,
    level: 1,
    delayMs: 500,
  });
  expect(at(600)).toMatchObject({ drive: true, delay: true });
  expect(at(1000)).toMatchObject({ drive: true, delay: false, level: 0 });
  expect(at(1600)).toMatchObject({ delayMs: 250 });
  // The preset again: what was pressed is as the preset has it, and the beat is slower.
  expect(at(2100)).toMatchObject({ drive: false, delay: true, delayMs: 500 });
  // B1 tried for a stretch: 82 alone.
  const tried = { bank: 1, program: 0, fromTick: 0, toTick: 480 };
  const with_ = effectsOf(piece.parts[0]!.turns, box, piece.clock, tried)!;
  expect(with_(0)).toMatchObject({ tremolo: false, delay: true });
  expect(with_(500)).toMatchObject({ tremolo: true, delay: true });
  expect(effectsOf(null, box, piece.clock)).toBeNull();
  expect(effectsOf(piece.parts[0]!.turns, builtIn('lantern-rail'), piece.clock)).toBeNull();
});
