import { describe, expect, it } from 'vitest';
import { builtIn } from '../../../testing/score-builder';
import { builtInTargets } from './index';
import { parseTarget, parseTargetText } from './parse';

describe('built-in targets hold the binding numbers', () => {
  it('bell loft', () => {
    expect(builtIn('bell-loft')).toMatchObject({
      file: { formats: [0], ppq: { multipleOf: 24, highest: 960 } },
      seats: [{ channel: 1 }],
      notes: { lowest: 60, highest: 84, without: [61, 63] },
      polyphony: { together: 4 },
      spacing: { sameKeyApartMs: 180 },
      start: { leadInMs: 500 },
      tempo: { lowestBpm: 30, highestBpm: 160, mostEvents: 64 },
      events: { controllers: 'none', programs: 'none', bends: 'none', sysex: 'none' },
      text: { mostTrackNames: 1 },
      naming: { letters: 'A-Z0-9', longest: 8, ending: '.mid' },
    });
    const { notes } = builtIn('bell-loft');
    expect(notes!.highest! - notes!.lowest! + 1 - notes!.without!.length).toBe(23);
  });
  it('lantern rail', () => {
    expect(builtIn('lantern-rail')).toMatchObject({
      file: { formats: [1], mostNoteTracks: 1 },
      seats: [{ channel: 16 }],
      notes: { lowest: 24, highest: 59 },
      polyphony: { together: 1 },
      spacing: { apartMs: 250 },
      length: { shortestMs: 50 },
      tempo: { constant: true, lowestBpm: 60, highestBpm: 180 },
      meter: { constant: true },
      start: { leadInBars: 3 },
      clock: { withinMs: 5, shift: 'common' },
      text: { longestMarker: 16, markerLetters: 'printable-ascii' },
    });
    expect(builtIn('lantern-rail').outputs.map((o) => o.writer)).toEqual(['smf', 'time-list']);
  });
  it('tempo carrier', () => {
    expect(builtIn('tempo-carrier')).toMatchObject({
      seats: [],
      file: { formats: [1] },
      carrier: { channel: 1, noteNumber: 60, velocity: 1, track: 'Carrier' },
    });
  });
});

describe('a target of a user', () => {
  const copy = () => JSON.parse(JSON.stringify(builtIn('lantern-rail'))) as Record<string, never>;
  it('every built-in one comes back from its own text', () => {
    for (const target of builtInTargets)
      expect(parseTargetText(JSON.stringify(target)).target).toEqual(target);
  });
  it('an unknown key is named with its path and the nearest known one', () => {
    const data = { ...copy(), tempo: { constnat: true } };
    expect(parseTarget(data).problems).toEqual([
      {
        path: 'tempo.constnat',
        says: '"constnat" is not a known key. The nearest known key is "constant".',
      },
    ]);
  });
  it('contradictions are said', () => {
    const data = { ...copy(), notes: { lowest: 70, highest: 60 } };
    expect(parseTarget(data).problems[0]).toMatchObject({ path: 'notes.lowest' });
  });
  it('what is not JSON is said', () => {
    expect(parseTargetText('{').problems[0]!.says).toMatch(/^This is not JSON/);
  });
});
