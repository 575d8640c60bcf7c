import { describe, expect, it } from 'vitest';
import { builtInTargets } from '../target/index';
import { programAt } from './seat-sound';

const seat = (...programs: number[]) => ({
  sounds: programs.map((program) => ({ name: `Sound ${program}`, program })),
});

describe('the program that comes with a seat', () => {
  it.each([
    ['has it already', [19, 61], 61, null],
    ['has its neighbour: it was counted from the other end', [19, 61], 60, 61],
    ['has one of its family', [19, 61, 14], 57, 61],
    ['has nothing like it', [19, 61], 100, 19],
    ['is asked for none', [48, 19], null, 48],
  ] as const)('%s', (_, programs, program, found) => {
    expect(programAt(seat(...programs), program)).toBe(found);
  });
  it('stays where the seat names no sounds', () => {
    expect(programAt({}, 5)).toBeNull();
    expect(programAt(undefined, null)).toBeNull();
  });
  it('is always one that the seat has, at every seat that ships', () => {
    for (const { seats } of builtInTargets)
      for (const s of seats)
        for (const program of [null, 0, 19, 60, 127]) {
          const found = programAt(s, program);
          if (found !== null) expect(s.sounds!.map((x) => x.program)).toContain(found);
        }
  });
});
