import { hasConductorTrack, playedTracks } from '../score/layout';
import { ticksPerQuarterOf } from '../score/score';
import { setFormat, nameFile } from '../steps/delivery';
import { holdClock, ppqForClock, setPpq } from '../steps/timing';
import type { Target } from '../target/schema';
import { defineRule, mend } from './define-rule';

export const format = defineRule({
  id: 'format',
  summary: 'The SMF format and how its tracks are laid out.',
  block: 'file',
  phase: 'naming',
  codes: {
    format: {
      title: 'Another format',
      wrong: (f) => `This would be delivered as SMF ${f['format']}.`,
      then: (f, w) => `${w.Target} reads SMF ${f['allowed']} and nothing else.`,
    },
    'conductor-track': {
      title: 'No track for the tempo',
      wrong: () => 'Tempo, meter or markers stand on a track with notes.',
      then: (_, w) => `${w.Target} looks for them in a first track of their own.`,
    },
    'note-tracks': {
      title: 'Too many tracks with notes',
      wrong: (f) => `Notes stand on ${f['tracks']} tracks.`,
      then: (f, w) =>
        `${w.Target} reads ${f['most'] === 1 ? 'one track' : `the first ${f['most']} tracks`} and drops the rest.`,
    },
  },
  check({ block, piece, target, report }) {
    const { formats, layout, mostNoteTracks } = block;
    const { delivery, score } = piece;
    const to = block.deliverFormat ?? formats?.find((x) => x < 2) ?? 1;
    const wanted = layout ?? (to === 0 ? 'single' : 'as-is');
    const as = { format: to as 0 | 1, layout: wanted };
    if (formats && !formats.includes(delivery.format)) {
      report({
        code: 'format',
        data: { format: delivery.format, allowed: formats.join(' or ') },
        measured: { value: delivery.format, unit: 'format' },
        allowed: { formats },
        mends: [mend(`Write SMF ${to}`, setFormat, as)],
      });
    } else if (layout === 'conductor-first' && !hasConductorTrack(piece)) {
      report({
        code: 'conductor-track',
        mends: [mend('Give them a track of their own', setFormat, as)],
      });
    }
    const played = playedTracks(score);
    if (mostNoteTracks !== undefined && played.length > mostNoteTracks) {
      report({
        code: 'note-tracks',
        data: { tracks: played.length, most: mostNoteTracks },
        measured: { value: played.length, unit: 'tracks' },
        allowed: { mostNoteTracks },
        ...(mostNoteTracks === 1
          ? {
              mends: [
                mend('Put them on one track', setFormat, {
                  ...as,
                  oneTrack: trackFor(target, score, played[0]!),
                }),
              ],
            }
          : {
              noMend: 'Which tracks belong together is yours to say: leave parts out or join them.',
            }),
      });
    }
  },
});

const trackFor = (
  target: Target,
  score: { tracks: readonly { name: string | null }[] },
  first: number,
) => {
  const seat = target.seats[0];
  return (seat && 'track' in seat ? seat.track : undefined) ?? score.tracks[first]?.name ?? 'Notes';
};

type PpqLimits = NonNullable<NonNullable<Target['file']>['ppq']>;

export const ppqAllowed = (limits: PpqLimits | undefined, ppq: number): boolean =>
  !limits ||
  (ppq % (limits.multipleOf ?? 1) === 0 &&
    ppq >= (limits.lowest ?? 1) &&
    ppq <= (limits.highest ?? 32_767) &&
    (limits.only?.includes(ppq) ?? true));

/** Allowed PPQ to change to: a multiple of the present one where there is one, else the nearest above, else the finest. */
export function nearestPpq(limits: PpqLimits, ppq: number): number | null {
  const allowed: number[] = [];
  for (let p = 1; p <= 32_767; p++) if (ppqAllowed(limits, p)) allowed.push(p);
  return (
    allowed.find((p) => p % ppq === 0) ?? allowed.find((p) => p >= ppq) ?? allowed.at(-1) ?? null
  );
}

export const ppq = defineRule({
  id: 'ppq',
  summary: 'Ticks to a quarter note.',
  block: 'file',
  phase: 'tempo and meter',
  codes: {
    ppq: {
      title: 'Another PPQ',
      wrong: (f) => `The file has ${f['ppq']} ticks to a quarter note.`,
      then: (f, w) => `${w.Target} takes ${f['allowed']}.`,
    },
    frames: {
      title: 'Timed in frames',
      wrong: () => 'This file counts frames, not quarter notes.',
      then: (_, w) => `${w.Target} reads PPQ only.`,
    },
  },
  check({ block, piece, report }) {
    const { division } = piece.score;
    if (division.kind === 'smpte') {
      const us = 500_000;
      const from = ticksPerQuarterOf(division);
      const ticksPerQuarter = ppqForClock(from, us, (p) => ppqAllowed(block.ppq, p));
      report({
        code: 'frames',
        mends: [
          mend('Hold clock time at 120 BPM', holdClock, {
            microsecondsPerQuarter: us,
            ticksPerQuarter,
          }),
        ],
      });
      return;
    }
    if (!block.ppq) return;
    const ppq = ticksPerQuarterOf(division);
    if (ppqAllowed(block.ppq, ppq)) return;
    const to = nearestPpq(block.ppq, ppq);
    const { multipleOf, lowest, highest, only } = block.ppq;
    const allowed = [
      multipleOf ? `a multiple of ${multipleOf}` : '',
      lowest ? `at least ${lowest}` : '',
      highest ? `at most ${highest}` : '',
      only ? only.join(', ') : '',
    ];
    report({
      code: 'ppq',
      data: { ppq, allowed: allowed.filter(Boolean).join(', ') },
      measured: { value: ppq, unit: 'ticks per quarter' },
      allowed: { ppq: block.ppq },
      ...(to === null
        ? { noMend: 'No PPQ satisfies all limits of this target.' }
        : { mends: [mend(`Write PPQ ${to}`, setPpq, { ticksPerQuarter: to })] }),
    });
  },
});

type Naming = NonNullable<Target['naming']>;

const outside = (naming: Naming) => new RegExp(`[^${naming.letters}]`, 'g');

export function nameAllowed(naming: Naming, name: string): boolean {
  if (!name.endsWith(naming.ending)) return false;
  const stem = name.slice(0, -naming.ending.length);
  return stem.length > 0 && stem.length <= naming.longest && !outside(naming).test(stem);
}

/** A name that the target lists, as close to the given one as it can be. */
export function fitName(naming: Naming, name: string): string {
  const stem = name
    .replace(/\.[^.]*$/, '')
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '');
  const cased =
    naming.letters === 'A-Z0-9'
      ? stem.toUpperCase()
      : naming.letters === 'a-z0-9'
        ? stem.toLowerCase()
        : stem;
  const fitted = cased.replace(outside(naming), '').slice(0, naming.longest);
  return (
    (fitted || (naming.letters === 'a-z0-9' ? 'song' : 'SONG').slice(0, naming.longest)) +
    naming.ending
  );
}

export const fileName = defineRule({
  id: 'file-name',
  summary: 'The name of the delivered file.',
  block: 'naming',
  phase: 'naming',
  codes: {
    'file-name': {
      title: 'A name it does not list',
      wrong: (f) => `The file would be named “${f['name']}”.`,
      then: (f, w) =>
        `${w.Target} lists names of 1 to ${f['longest']} of ${f['letters']}, then ${f['ending']}; others it does not show.`,
    },
  },
  check({ block, piece, report }) {
    const name = piece.delivery.fileName;
    if (nameAllowed(block, name)) return;
    const to = fitName(block, name);
    report({
      code: 'file-name',
      data: { name, letters: block.letters, longest: block.longest, ending: block.ending },
      allowed: { letters: block.letters, longest: block.longest, ending: block.ending },
      mends: [mend(`Name it ${to}`, nameFile, { name: to })],
    });
  },
});
