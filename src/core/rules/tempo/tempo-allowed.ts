import { holdClockAt, nearestOf, sayHolding, stretches } from './holding';
import { bpmOf } from '../../time/tempo-map';
import { defineRule, mend, says, spanAt } from '../define-rule';
import { isWholeBpm, plainBpm } from '../../time/tempos';
import { plain } from '../../target/words';
import { tempoToList } from '../../steps/timing/tempo-to-list';

export const tempoAllowed = defineRule({
  id: 'tempo-allowed',
  summary: 'Only tempos that the target has: of a list, or whole numbers.',
  story: {
    why: 'A tempo was tapped or measured, and has decimals that a display does not show.',
    mends:
      'Hold clock time at the nearest tempo that it has, or move each tempo there and let the clock follow.',
  },
  block: 'tempo',
  reads: ['onlyBpm', 'wholeBpm'],
  phase: 'tempo and meter',
  codes: {
    'tempo-not-listed': says<{
      placesText: string;
      bpm: string;
      allowed: string;
    }>({
      title: 'Tempo not supported',
      wrong: (f) => `${f.placesText} ${f.bpm} BPM.`,
      then: (f, w) => `${w.Target} has ${f.allowed} BPM and takes the nearest.`,
    }),
    'tempo-not-whole': says<{ placesText: string; bpm: string; allowed: string }>({
      title: 'Tempo not in whole BPM',
      wrong: (f) => `${f.placesText} ${f.bpm} BPM.`,
      then: (_, w) => `${w.Target} keeps whole numbers only and would play beside the beat.`,
    }),
  },
  check({ block, piece, target, report }) {
    const listed = block.onlyBpm && new Set(block.onlyBpm.map((b) => Math.round(60_000_000 / b)));
    const floors = block.onlyBpm && new Set(block.onlyBpm.map((b) => Math.floor(60_000_000 / b)));
    const all = stretches(piece.score);
    const ask = (
      code: 'tempo-not-listed' | 'tempo-not-whole',
      fits: (us: number) => boolean,
      params: object,
      allowed: string,
    ) => {
      const out = all.filter((t) => !fits(t.us));
      if (out.length === 0) return;
      const [first] = out;
      const nearest = nearestOf(first!.us, block);
      report({
        code,
        spans: out.map((t) => spanAt(t.tick)),
        data: {
          placesText:
            out.length === 1 ? 'The tempo is' : `${out.length} tempos are others, such as`,
          bpm: plainBpm(first!.us),
          allowed,
        },
        measured: { value: Math.round(bpmOf(first!.us) * 1000) / 1000, unit: 'BPM' },
        allowed: block.onlyBpm ? { onlyBpm: block.onlyBpm } : { wholeBpm: true },
        mends: [
          ...(all.length === 1 ? [holdClockAt(piece.score, target, nearest)] : []),
          mend(
            sayHolding('Bring each to the nearest that it has', piece.score, (us) =>
              fits(us) ? us : nearestOf(us, block),
            ),
            tempoToList,
            params,
          ),
        ],
      });
    };
    if (listed && floors)
      ask(
        'tempo-not-listed',
        (us) => listed.has(us) || floors.has(us),
        { bpms: block.onlyBpm },
        block.onlyBpm!.map(plain).join(', '),
      );
    if (block.wholeBpm) {
      const { lowestBpm, highestBpm } = block;
      const bounds = {
        ...(lowestBpm === undefined ? {} : { lowestBpm }),
        ...(highestBpm === undefined ? {} : { highestBpm }),
      };
      ask('tempo-not-whole', isWholeBpm, { whole: true, ...bounds }, 'whole');
    }
  },
});
