import { describe, expect, it } from 'vitest';
import { builtInTargets, findTarget } from './index';
import { slotsOf } from './slots';

const slots = (id: string) => slotsOf(findTarget(id)!, 'reel');

describe('slots that are files', () => {
  it('are places, pads or patterns, each with the lengths that it takes', () => {
    const crate = slots('stomp-crate');
    const named = (name: string) => crate.find((s) => s.name === name)!;
    expect(named('Bed 1').takes(16)).toBe(true);
    expect(named('Bed 1').takes(17)).toBe(false);
    expect(named('Break 1').says).toBe('half a bar or 1 bar');
    expect(named('Break 1').takes(2)).toBe(false);
    expect(named('Break 1').short).toBe('½, 1 bar');
    expect(named('Bed 1').short).toBe('1–16 bars');
    const pads = slots('pattern-pads');
    expect([pads[0]!.name, pads[0]!.short]).toEqual(['Place 1', '2, 3, 4, 6 bars']);
    expect(pads.map((s) => s.fileName)).toContain('3_reel.mid');
    expect([2, 3, 4, 5, 6].filter((n) => pads[0]!.takes(n))).toEqual([2, 3, 4, 6]);
    const patterns = slots('tide-voices');
    expect([patterns[0]!.name, patterns[0]!.fileName]).toEqual(['Pattern A', 'A.mid']);
    expect(patterns[0]!.says).toBe('1 to 64 bars');
  });
  it('no two of a target have one name; what has no slots has none', () => {
    for (const t of builtInTargets) {
      const names = slotsOf(t, 'x').map((s) => s.fileName);
      expect(new Set(names).size, t.id).toBe(names.length);
    }
    expect(slots('bell-loft')).toEqual([]);
  });
});
