import { expect, it } from 'vitest';
import { Striker } from './worklet/striker';
import type { Sounder } from '../../core/sound/transport';

it('single notes are struck and end, whatever is asked for next', () => {
  const log: string[] = [];
  const nothing = () => {};
  const sounder: Sounder = {
    noteOn: (channel, key) => log.push(`on ${channel} ${key}`),
    noteOff: (channel, key) => log.push(`off ${channel} ${key}`),
    program: (channel, program) => log.push(`program ${channel} ${program}`),
    control: nothing,
    bend: nothing,
    pressure: nothing,
    keyPressure: nothing,
    reset: nothing,
    silence: nothing,
  };
  const striker = new Striker(sounder);
  const one = { afterMs: 0, lengthMs: 100, channel: 9, key: 36, velocity: 90, program: null };
  striker.strike([one, { ...one, afterMs: 150, key: 38 }]);
  for (let i = 0; i < 30; i++) striker.advance(10);
  expect(log).toEqual(['on 9 36', 'off 9 36', 'on 9 38', 'off 9 38']);
  log.length = 0;
  striker.strike([{ ...one, program: 12, channel: 0 }]);
  striker.advance(10);
  striker.strike([]);
  for (let i = 0; i < 30; i++) striker.advance(10);
  expect(log).toEqual(['program 0 12', 'on 0 36', 'off 0 36']);
});
