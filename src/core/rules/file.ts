import { hasConductorTrack, playedTracks } from '../score/layout';
import { isIn, ticksPerQuarterOf } from '../score/score';
import { asDelivered } from '../reading/as-delivered';
import { fileOf } from '../score/to-file';
import { stemOf } from '../smf/name';
import { writeSmf } from '../smf/write';
import { setFormat, nameFile } from '../steps/delivery';
import { leaveOut } from '../steps/routing';
import { repeatsOf } from '../reading/news';
import { dropDuplicates } from '../steps/strip';
import { setPpq } from '../steps/timing';
import type { Target } from '../target/schema';
import { defineRule, mend } from './define-rule';

export const format = defineRule({
  id: 'format',
  summary: 'The SMF format and how its tracks are laid out.',
  block: 'file',
  reads: ['formats', 'layout', 'mostNoteTracks'],
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
  reads: ['ppq'],
  phase: 'tempo and meter',
  codes: {
    ppq: {
      title: 'Another PPQ',
      wrong: (f) => `The file has ${f['ppq']} ticks to a quarter note.`,
      then: (f, w) => `${w.Target} takes ${f['allowed']}.`,
    },
  },
  check({ block, piece, report }) {
    const { division } = piece.score;
    // Frames have a finding of their own.
    if (division.kind === 'smpte' || !block.ppq) return;
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

export const fileSize = defineRule({
  id: 'file-size',
  summary: 'The size of the file as it is written.',
  block: 'file',
  reads: ['mostBytes'],
  phase: 'end',
  codes: {
    'file-large': {
      title: 'Too large',
      wrong: (f) => `The file takes ${f['bytes']} bytes.`,
      then: (f, w) => `${w.Target} has room for ${f['most']} and cuts off the rest.`,
    },
  },
  check({ block, target, piece, report }) {
    const most = block.mostBytes;
    if (most === undefined) return;
    const bytes = writeSmf(fileOf(asDelivered(piece, target))).length;
    if (bytes <= most) return;
    const parts = piece.score.parts.filter((p) => isIn(p) && p.notes.count > 0);
    const repeats = repeatsOf(piece.score).size > 0;
    // A note takes about eight bytes: which part would be enough on its own.
    const over = bytes - most;
    const enough = parts
      .filter((p) => (p.notes.count * 2 + p.events.count) * 4 >= over)
      .sort((a, b) => a.notes.count - b.notes.count)[0];
    report({
      code: 'file-large',
      data: { bytes: bytes.toLocaleString('en-GB'), most: most.toLocaleString('en-GB') },
      measured: { value: bytes, unit: 'bytes' },
      allowed: { mostBytes: most },
      mends: [
        ...(repeats
          ? [mend('Drop events that repeat', dropDuplicates, { notes: false, events: true })]
          : []),
        ...(enough ? [mend(`Leave “${enough.name}” out`, leaveOut, {}, [enough])] : []),
      ],
      ...(repeats || enough ? {} : { noMend: 'Leave several parts out, or shorten the piece.' }),
    });
  },
});

type Naming = NonNullable<Target['naming']>;

const outside = (naming: Naming) =>
  naming.letters === 'any' ? /[/\\:*?"<>|]/g : new RegExp(`[^${naming.letters}]`, 'g');

export function nameAllowed(naming: Naming, name: string): boolean {
  if (naming.only) return naming.only.includes(name);
  if (!name.endsWith(naming.ending)) return false;
  const stem = name.slice(0, -naming.ending.length);
  if (naming.prefixes && !naming.prefixes.some((p) => stem.startsWith(p) && stem.length > p.length))
    return false;
  return stem.length > 0 && stem.length <= naming.longest && !outside(naming).test(stem);
}

/** A name that the target lists, as close to the given one as it can be. */
export function fitName(naming: Naming, name: string): string {
  const stem = stemOf(name)
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '');
  const cased =
    naming.letters === 'A-Z0-9'
      ? stem.toUpperCase()
      : naming.letters === 'a-z0-9'
        ? stem.toLowerCase()
        : stem;
  const lead = naming.prefixes?.some((p) => cased.startsWith(p))
    ? ''
    : (naming.prefixes?.[0] ?? '');
  const fitted = (lead + cased.replace(outside(naming), '')).slice(0, naming.longest);
  const bare = fitted === lead ? '' : fitted;
  const fallback = naming.letters === 'A-Z0-9' ? 'SONG' : 'song';
  return (bare || (lead + fallback).slice(0, naming.longest)) + naming.ending;
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
      then: (f, w) => `${w.Target} lists ${f['allowed']}; others it does not show.`,
    },
  },
  check({ block, piece, report }) {
    const name = piece.delivery.fileName;
    if (nameAllowed(block, name)) return;
    const to = block.only ? block.only[0]! : fitName(block, name);
    report({
      code: 'file-name',
      data: { name, allowed: sayNaming(block) },
      allowed: { ...block },
      mends: [mend(`Name it ${to}`, nameFile, { name: to })],
    });
  },
});

function sayNaming({ only, prefixes, letters, longest, ending }: Naming): string {
  if (only) return `names such as ${only.slice(0, 4).join(', ')}`;
  const of = letters === 'any' ? 'letters' : `of ${letters}`;
  const lead = prefixes
    ? `names that begin with ${prefixes.slice(0, 3).join(', ')}${prefixes.length > 3 ? ` … ${prefixes.at(-1)}` : ''}, `
    : 'names ';
  return `${lead}of 1 to ${longest} ${of}, then ${ending}`;
}

export const namesApart = defineRule({
  id: 'names-apart',
  summary: 'No two files of a delivery take one name or one numbered place.',
  block: 'naming',
  phase: 'naming',
  over: 'delivery',
  codes: {
    'name-taken': {
      title: 'Two files for one place',
      wrong: (f) => `“${f['first']}” and “${f['second']}” both take ${f['place']}.`,
      then: (_, w) => `${w.Target} keeps one of them.`,
    },
  },
  check({ block, pieces, report }) {
    const taken = new Map<string, string>();
    for (const { delivery } of pieces) {
      const place =
        block.prefixes?.find((p) => delivery.fileName.startsWith(p)) ?? delivery.fileName;
      const first = taken.get(place.toLowerCase());
      if (first === undefined) taken.set(place.toLowerCase(), delivery.fileName);
      else
        report({
          code: 'name-taken',
          cause: delivery.fileName,
          data: { first, second: delivery.fileName, place },
          allowed: { once: place },
          noMend: 'Give one of the two another name.',
        });
    }
  },
});
