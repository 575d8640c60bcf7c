import { expect, it } from 'vitest';
import { bandSongs } from '../../../demo/band-songs';
import { builtIn, renditionOf, sourceFromBytes } from '../../../testing/score-builder';
import { proof } from '../rules/proof';
import { count } from '../target/words';
import { baseOf } from './base';
import { keptOf } from './fit';
import { Trials } from './trial';

/** Everything that a way of who plays leaves out: told alike on its card and in the table of fit. */
it('a way of who plays counts as left out what is silent, and as dropped what is lost of the rest', () => {
  let dropping = 0;
  const songs = bandSongs().filter((_, n) => n % 6 === 1);
  for (const { bytes, name } of songs)
    for (const id of ['reed-ladder', 'marsh-duel', 'tide-voices', 'ferry-barrel']) {
      const target = builtIn(id);
      const base = baseOf(sourceFromBytes(bytes, name));
      const rendition = renditionOf(sourceFromBytes(bytes, name), target);
      const trials = new Trials(base, target);
      const ways = proof({ rendition, target, base }).filter((f) => f.code === 'unseated');
      for (const mend of ways.flatMap((f) => f.mends)) {
        const tried = trials.try(rendition, mend);
        if (tried.refused !== null) continue;
        const { out, seated, kept } = keptOf(rendition, tried.rendition);
        const says = `${name} on ${id}, ${mend.title}: ${tried.costs}`;
        if (out.parts > 0)
          expect(tried.costs, says).toContain(
            `leaves out ${count(out.parts, 'part')} (${count(out.notes, 'note')})`,
          );
        else expect(tried.costs, says).not.toContain('leaves out');
        if (kept === seated || seated === 0) continue;
        dropping++;
        expect(tried.costs, says).toContain(`drops ${(seated - kept).toLocaleString('en-GB')} of`);
      }
    }
  expect(dropping).toBeGreaterThan(2);
});
