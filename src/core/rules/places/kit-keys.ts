import type { Target } from '../../target/schema';
import type { Piece } from '../../score/piece';
import { callStep } from '../../steps/define-step';
import { SpanList, defineRule, mend, mendBy, says } from '../define-rule';
import { count, noteName } from '../../target/words';
import { leaveOut } from '../../steps/routing';
import { mapKeys } from '../../steps/keys';
import { nearestInKind } from '../../seating/drum-kinds';
import { metadata } from '../../steps/facts';

/** How many notes each key has, over the parts that are delivered. */
function keysUsed(pieces: readonly Piece[]): Map<number, number> {
  const used = new Map<number, number>();
  for (const { score } of pieces)
    for (const { notes, leftOut } of score.parts)
      for (let i = 0; i < notes.count && !leftOut; i++)
        used.set(notes.noteNumber[i]!, (used.get(notes.noteNumber[i]!) ?? 0) + 1);
  return used;
}

type Kit = NonNullable<Target['kits']>[number];

export const kitKeys = defineRule({
  id: 'kit-keys',
  summary: 'Only keys that the chosen kit has.',
  story: {
    why: 'Drums were played on another kit, whose sounds have other keys.',
    mends: 'Another kit that has them all, the nearest drum of the family, or without them.',
  },
  block: 'kits',
  phase: 'notes',
  codes: {
    'off-kit': says<{ notesText: string; keys: string; kit: string }>({
      title: 'Drums that the kit does not have',
      wrong: (f) => `${f.notesText} on ${f.keys}.`,
      then: (f, w) => `${w.Target} has no sound there in the kit ${f.kit} and stays silent.`,
    }),
    'kit-open': says<{ kit: string; allowed: string }>({
      title: 'Kit not chosen',
      wrong: () => 'No kit is named for this song.',
      then: (f, w) =>
        `${w.Target} has ${f.allowed} and takes what its display shows last; ${f.kit} has most of these drums.`,
    }),
    'kit-unknown': says<{ kit: string; allowed: string }>({
      title: 'Kit that is not on the device',
      wrong: (f) => `The kit “${f.kit}” is named.`,
      then: (f, w) => `${w.Target} has ${f.allowed}.`,
    }),
  },
  check({ heard, block: kits, piece, pieces, index, report }) {
    // A song has one kit, whatever its files use of it.
    const used = keysUsed(pieces);
    const here = keysUsed([piece]);
    const missingIn = (kit: Kit) => {
      const there = new Set(kit.keys.map((k) => k.noteNumber));
      return [...used.keys()].filter((k) => !there.has(k)).sort((a, b) => a - b);
    };
    const named = piece.delivery.metadata?.kit;
    const chosen = kits.find((k) => k.id === named);
    if (named !== undefined && !chosen) {
      report({
        code: 'kit-unknown',
        data: { kit: named, allowed: kits.map((k) => k.name).join(', ') },
        allowed: { kits: kits.map((k) => k.id) },
        mends: kits.slice(0, 4).map((k) => mend(`Use the kit ${k.name}`, metadata, { kit: k.id })),
      });
      return;
    }
    if (kits.length === 0 || used.size === 0) return;
    // Without a choice the song is held against the kit that has the most of its notes.
    const notesOf = (kit: Kit) => missingIn(kit).reduce((n, k) => n + used.get(k)!, 0);
    const kit = chosen ?? kits.reduce((a, b) => (notesOf(b) < notesOf(a) ? b : a));
    const missing = missingIn(kit).filter((k) => here.has(k));
    const whole = kits.filter((k) => k !== kit && missingIn(k).length === 0);
    const use = (k: Kit) => callStep(metadata, { kit: k.id });
    if (!chosen && index === 0)
      report({
        code: 'kit-open',
        severity: 'caution',
        data: { kit: kit.name, allowed: kits.map((k) => k.name).join(', ') },
        allowed: { kits: kits.map((k) => k.id) },
        mends: [kit, ...whole].map((k) => mendBy(`Use the kit ${k.name}`, use(k))),
      });
    if (missing.length === 0) return;
    const off = new Set(missing);
    const found = new SpanList();
    for (const part of heard()) {
      for (let i = 0; i < part.notes.count; i++)
        if (off.has(part.notes.noteNumber[i]!)) found.add(part, i);
    }
    report({
      code: 'off-kit',
      cause: kit.id,
      ...found.found,
      data: {
        notesText: `${count(found.count, 'note')} ${found.count === 1 ? 'is' : 'are'}`,
        keys: missing
          .slice(0, 6)
          .map((k) => `${noteName(k)} (${k})`)
          .join(', '),
        kit: kit.name,
      },
      measured: { value: missing[0]!, unit: 'note number' },
      allowed: { kit: kit.id, keys: kit.keys.map((k) => k.noteNumber) },
      mends: [
        ...whole.map((k) => mendBy(`Use the kit ${k.name}`, use(k))),
        mend('Play each on the nearest drum of the kit', mapKeys, {
          keys: nearestInKind(
            missing,
            kit.keys.map((k) => ({ key: k.noteNumber, name: k.name })),
          ),
        }),
        mend('Leave these drums out', leaveOut, { keys: missing }),
      ],
    });
  },
});
