import { CHORD_SPREAD_MS, chordsOf } from '../../reading/chords';
import { SpanList, defineRule, mend, says } from '../define-rule';
import { addTriggerKeys, quantise } from '../../steps/grid';
import { leaveOut } from '../../steps/routing';
import type { Part } from '../../score/score';
import { allowedKeys, limitsFor } from '../../target/limits';
import type { Target } from '../../target/schema';
import { plain, sayMs } from '../../target/words';

/** The lowest key of some that its seat takes; null where it takes none of them. */
function triggerFor(target: Target, part: Part, lowest: number, highest: number): number | null {
  const limits = limitsFor(target, part);
  if (!limits) return lowest;
  const allowed = allowedKeys(limits);
  for (let key = lowest; key <= highest; key++) if (allowed[key]) return key;
  return null;
}

export const chords = defineRule({
  id: 'chords-together',
  summary: 'The notes of a chord struck together, and with a trigger key.',
  story: {
    why: 'Chords that were played in are never struck at one tick.',
    mends:
      'They are struck together with their first note; a trigger key is added where there is none.',
  },
  block: 'grid',
  reads: ['chordWithinMs'],
  phase: 'spacing',
  codes: {
    'chord-spread': says<{ chordsText: string; ms: string; within: string }>({
      title: 'Chord notes not struck together',
      wrong: (f) => `${f.chordsText} spread over up to ${f.ms} ms.`,
      then: (f, w) =>
        `${w.Target} takes what comes within ${f.within} ms of the trigger and misses the rest.`,
    }),
    'trigger-missing': says<{ chordsText: string; one: number; lowest: number; highest: number }>({
      title: 'Chords without a trigger key',
      wrong: (f) =>
        `${f.chordsText} no key of ${f.lowest}–${f.highest} struck with ${f.one ? 'it' : 'them'}.`,
      then: (_, w) => `${w.Target} holds such a chord without a sound.`,
    }),
  },
  check({ channels, block, target, maps, report }) {
    const { chordWithinMs, chordLowest, chordHighest, triggerLowest, triggerHighest } = block;
    if (chordWithinMs === undefined) return;
    // What the far side hears on a channel is struck together, whatever tracks it is of.
    for (const { parts, notes } of channels()) {
      if (notes.count === 0) continue;
      const all = chordsOf(notes, maps.clock, block, chordWithinMs);
      const spread = new SpanList();
      const silent = new SpanList();
      let spreadCount = 0;
      let silentCount = 0;
      let most = 0;
      for (const chord of all) {
        if (chord.indices.length < 2) continue;
        const wide = maps.clock.msAt(chord.last) - maps.clock.msAt(chord.first);
        const together = wide <= chordWithinMs + 1e-6;
        if (!together) {
          spreadCount++;
          most = Math.max(most, wide);
          for (const i of chord.indices) spread.addNote(notes, i);
        } else if (triggerLowest !== undefined && triggerHighest !== undefined && !chord.struck) {
          // A spread chord is judged by its own finding first.
          silentCount++;
          for (const i of chord.indices) silent.addNote(notes, i);
        }
      }
      const [part] = parts;
      const base = {
        cause: `channel ${part!.channel}`,
        ...(parts.length === 1 ? { part: part! } : {}),
      };
      if (spreadCount > 0)
        report({
          code: 'chord-spread',
          ...base,
          ...spread.found,
          data: {
            chordsText: spreadCount === 1 ? 'One chord is' : `${spreadCount} chords are`,
            ms: sayMs(most, chordWithinMs),
            within: plain(chordWithinMs),
          },
          measured: { value: Math.round(most * 1000) / 1000, unit: 'ms' },
          allowed: { chordWithinMs },
          mends: [
            mend(
              'Strike the chord notes together',
              quantise,
              { chordWithinMs: CHORD_SPREAD_MS },
              parts,
            ),
          ],
        });
      if (silentCount > 0) {
        const key = triggerFor(target, part!, triggerLowest!, triggerHighest!);
        report({
          code: 'trigger-missing',
          ...base,
          ...silent.found,
          data: {
            chordsText: silentCount === 1 ? 'One chord has' : `${silentCount} chords have`,
            one: silentCount === 1 ? 1 : 0,
            lowest: triggerLowest!,
            highest: triggerHighest!,
          },
          measured: { value: silentCount, unit: 'chords' },
          allowed: { triggerLowest, triggerHighest },
          mends: [
            ...(key === null
              ? []
              : [
                  mend(
                    'Add a trigger key to each',
                    addTriggerKeys,
                    {
                      key,
                      chordLowest: chordLowest ?? 0,
                      chordHighest: chordHighest ?? 127,
                      triggerLowest: triggerLowest!,
                      triggerHighest: triggerHighest!,
                      leastNotes: 2,
                      withinMs: chordWithinMs,
                    },
                    parts,
                  ),
                ]),
            mend('Leave the chords out', leaveOut, { above: (chordLowest ?? 1) - 1 }, parts),
          ],
        });
      }
    }
  },
});
