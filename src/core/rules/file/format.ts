import type { Target } from '../../target/schema';
import { defineRule, mend, says, type NoFacts } from '../define-rule';
import { hasConductorTrack, playedTracks } from '../../score/layout';
import { setFormat } from '../../steps/delivery';

export const format = defineRule({
  id: 'format',
  summary: 'The SMF format and how its tracks are laid out.',
  story: {
    why: 'Sequencers export one track each; many devices read one track only.',
    mends: 'The format and the layout are changed; nothing that sounds is touched.',
  },
  block: 'file',
  reads: ['formats', 'layout', 'mostNoteTracks'],
  phase: 'naming',
  codes: {
    format: says<{ format: number; allowed: string }>({
      title: 'SMF format not supported',
      named: (f) => `SMF format ${f.format}, needs ${f.allowed}`,
      wrong: (f) => `This would be delivered as SMF ${f.format}.`,
      then: (f, w) => `${w.Target} reads SMF ${f.allowed} and nothing else.`,
    }),
    'conductor-track': says<NoFacts>({
      title: 'Tempo track missing',
      wrong: () => 'Tempo, meter or markers stand on a track with notes.',
      then: (_, w) => `${w.Target} looks for them in a first track of their own.`,
    }),
    'note-tracks': says<{ tracks: number; most: number }>({
      title: 'Too many tracks with notes',
      named: (f) => `Notes on ${f.tracks} tracks, reads ${f.most}`,
      wrong: (f) => `Notes stand on ${f.tracks} tracks.`,
      then: (f, w) =>
        `${w.Target} reads ${f.most === 1 ? 'one track' : `the first ${f.most} tracks`} and drops the rest.`,
    }),
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
        mends: [mend('Move tempo and markers to a track of their own', setFormat, as)],
      });
    }
    const played = playedTracks(score);
    if (mostNoteTracks !== undefined && played.length > mostNoteTracks) {
      report({
        code: 'note-tracks',
        data: { tracks: played.length, most: mostNoteTracks },
        measured: { value: played.length, unit: 'tracks' },
        allowed: { mostNoteTracks },
        // Seats that are tracks tell parts apart by them; channels do without.
        ...(mostNoteTracks === 1 || !target.seats.some((s) => s.kind === 'track')
          ? {
              mends: [
                mend('Put all notes on one track', setFormat, {
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
