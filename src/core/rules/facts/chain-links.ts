import { chainOf, lettersOf, voiceSeats } from '../../reading/chain';
import { isIn, type Part } from '../../score/score';
import type { ChainLink } from '../../score/piece';
import { chain } from '../../steps/chain';
import { count } from '../../target/words';
import { defineRule, mend, says } from '../define-rule';

export const chainLinks = defineRule({
  id: 'chain-links',
  summary: 'A chain of known patterns, within what the target repeats, shifts and holds.',
  story: {
    why: 'A file was left out and the chain still names it; a song is longer than its memory.',
    mends: 'Links are brought within the limits; what names nothing goes.',
  },
  block: 'chains',
  phase: 'naming',
  over: 'delivery',
  codes: {
    'patterns-many': says<{ files: number; most: number }>({
      title: 'More files than patterns',
      wrong: (f) => `There are ${f.files} files.`,
      then: (f, w) => `${w.Target} holds ${f.most} patterns and plays none of the others.`,
    }),
    'link-unknown': says<{ letters: string; known: string }>({
      title: 'Chain link to a missing pattern',
      wrong: (f) => `The chain names ${f.letters}; there are ${f.known}.`,
      then: (_, w) => `${w.Target} refuses the chain.`,
    }),
    'links-many': says<{ links: number; most: number }>({
      title: 'Too many chain links',
      named: (f) => `${f.links} chain links, holds ${f.most}`,
      wrong: (f) => `The chain has ${count(f.links, 'link')}.`,
      then: (f, w) => `${w.Target} holds ${f.most}.`,
    }),
    'link-beyond': says<{ countText: string; what: string; allowed: string }>({
      title: 'Chain link out of its limits',
      wrong: (f) => `${f.countText} ${f.what}.`,
      then: (f, w) => `${w.Target} takes ${f.allowed}.`,
    }),
    'shift-out-of-reach': says<{ countText: string; one: number; lowest: number; highest: number }>(
      {
        title: 'Shifted out of reach',
        wrong: (f) =>
          `${f.countText} ${f.one ? 'is' : 'are'} shifted beyond keys ${f.lowest} to ${f.highest} by the chain.`,
        then: (_, w) => `${w.Target} drops them each time.`,
      },
    ),
  },
  check({ block, target, pieces, report }) {
    const { patterns, mostLinks, mostRepeats, shiftLowest, shiftHighest } = block;
    if (pieces.length > patterns.length)
      report({
        code: 'patterns-many',
        data: { files: pieces.length, most: patterns.length },
        measured: { value: pieces.length, unit: 'files' },
        allowed: { patterns },
        noMend: 'Leave files out, or play some of them as repeats of others.',
      });
    const links = chainOf({ pieces }, target);
    const letters = new Set(lettersOf(pieces, target).filter((l) => l !== null));
    const voices = voiceSeats(target).length;
    const all = (title: string, to: readonly ChainLink[]) =>
      to.length === 0
        ? { noMend: 'Make the chain anew with the step “Chain”.' }
        : {
            mends: [
              mend(title, chain, { links: to.map((l) => ({ ...l, voices: [...l.voices] })) }),
            ],
          };
    const unknown = links.filter((l) => !letters.has(l.pattern));
    if (unknown.length > 0)
      report({
        code: 'link-unknown',
        data: {
          letters: [...new Set(unknown.map((l) => l.pattern))].join(', '),
          known: [...letters].join(', ') || 'none',
        },
        measured: { value: unknown.length, unit: 'links' },
        allowed: { patterns: [...letters] },
        ...all(
          'Take these links out of the chain',
          links.filter((l) => letters.has(l.pattern)),
        ),
      });
    if (links.length > mostLinks)
      report({
        code: 'links-many',
        data: { links: links.length, most: mostLinks },
        measured: { value: links.length, unit: 'links' },
        allowed: { mostLinks },
        ...all('End the chain there', shortened(links, mostLinks, mostRepeats)),
      });
    const beyond = (
      what: string,
      allowed: string,
      bad: (l: ChainLink) => boolean,
      to: (l: ChainLink) => ChainLink[],
    ) => {
      const wrong = links.filter(bad).length;
      if (wrong === 0) return;
      report({
        code: 'link-beyond',
        cause: what,
        data: { countText: count(wrong, 'link'), what, allowed },
        measured: { value: wrong, unit: 'links' },
        allowed: { mostRepeats, shiftLowest, shiftHighest, voices },
        ...all('Bring them within it', links.flatMap(to)),
      });
    };
    beyond(
      'repeated too often',
      `${mostRepeats} repeats`,
      (l) => l.repeats > mostRepeats,
      (l) => {
        // As many links as it takes: nothing is lost.
        const whole = Math.floor(l.repeats / mostRepeats);
        const rest = l.repeats - whole * mostRepeats;
        const parts = Array.from({ length: whole }, () => mostRepeats);
        return [...parts, ...(rest > 0 ? [rest] : [])].map((repeats) => ({ ...l, repeats }));
      },
    );
    beyond(
      'shifted too far',
      `${shiftLowest} to ${shiftHighest} semitones`,
      (l) => l.shift < shiftLowest || l.shift > shiftHighest,
      (l) => [{ ...l, shift: Math.max(shiftLowest, Math.min(shiftHighest, l.shift)) }],
    );
    beyond(
      'with voices that are not there',
      `voices 1 to ${voices}`,
      (l) => l.voices.some((v) => v > voices),
      (l) => [{ ...l, voices: l.voices.filter((v) => v <= voices) }],
    );
    const { lowest = 0, highest = 127 } = target.notes ?? {};
    const seats = voiceSeats(target).map((s) => s.id);
    const lost = new Set<number>();
    const order = lettersOf(pieces, target);
    const on = (l: ChainLink, part: Part) => l.voices.includes(seats.indexOf(part.seat ?? '') + 1);
    for (const link of links) {
      if (link.shift === 0) continue;
      for (const part of pieces[order.indexOf(link.pattern)]?.score.parts ?? []) {
        if (!isIn(part) || !on(link, part)) continue;
        for (let i = 0; i < part.notes.count; i++) {
          const own = part.notes.noteNumber[i]!;
          const key = own + link.shift;
          // What is out of reach before the shift is named by another rule.
          if (own >= lowest && own <= highest && (key < lowest || key > highest))
            lost.add(part.notes.id[i]!);
        }
      }
    }
    if (lost.size === 0) return;
    report({
      code: 'shift-out-of-reach',
      notes: Uint32Array.from(lost),
      data: { countText: count(lost.size, 'note'), one: lost.size === 1 ? 1 : 0, lowest, highest },
      measured: { value: lost.size, unit: 'notes' },
      allowed: { lowest, highest },
      ...all(
        'Play these links unshifted',
        links.map((l) => ({ ...l, shift: 0 })),
      ),
    });
  },
});

/** Repeats in a row are one link first; then the chain is cut. */
function shortened(links: readonly ChainLink[], most: number, mostRepeats: number): ChainLink[] {
  const out: ChainLink[] = [];
  for (const l of links) {
    const last = out.at(-1);
    const same =
      last?.pattern === l.pattern &&
      last.shift === l.shift &&
      last.voices.join() === l.voices.join() &&
      last.repeats + l.repeats <= mostRepeats;
    if (same) out[out.length - 1] = { ...last, repeats: last.repeats + l.repeats };
    else out.push(l);
  }
  return out.slice(0, most);
}
