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
  let sharing = 0;
  const songs = bandSongs().filter((_, n) => n % 6 === 1);
  for (const { bytes, name } of songs)
    for (const id of ['reed-ladder', 'marsh-duel', 'tide-voices', 'ferry-barrel', 'fog-pier']) {
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
        const resting = Number(
          /([\d,]+) notes? of parts that rest/.exec(tried.costs)?.[1]?.replaceAll(',', '') ?? 0,
        );
        if (resting > 0) sharing++;
        if (out.parts > 0)
          expect(tried.costs, says).toContain(
            `leaves out ${count(out.parts, 'part')} (${count(out.notes, 'note')})`,
          );
        else if (resting === 0) expect(tried.costs, says).not.toContain('leaves out');
        const dropped = seated - kept - resting;
        if (dropped === 0) expect(tried.costs, says).not.toContain('drops');
        if (dropped === 0 || seated === 0) continue;
        dropping++;
        expect(tried.costs, says).toContain(`drops ${dropped.toLocaleString('en-GB')} of`);
      }
    }
  expect(dropping).toBeGreaterThan(2);
  // Told apart from both: who plays on while another rests.
  expect(sharing).toBeGreaterThan(0);
});
