import * as z from 'zod';
import { asDelivered, velocitiesLost } from '../reading/as-delivered';
import { silencedTracks } from '../score/layout';
import { fileOf } from '../score/to-file';
import { META_TRACK_NAME } from '../smf/file';
import { midiName } from '../smf/name';
import { writeSmf } from '../smf/write';
import { defineWriter, safeName } from './define-writer';

export const smfWriter = defineWriter({
  id: 'smf',
  summary: 'A Standard MIDI File for each piece.',
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const files = pieces.map((piece, index) => ({
      path: midiName(safeName(piece.delivery.fileName)),
      bytes: writeSmf(fileOf(asDelivered(piece, target))),
      piece: index,
      holds: index,
    }));
    const behind = pieces.reduce((sum, { score }) => {
      const silenced = silencedTracks(score);
      return (
        sum +
        silenced.reduce((n, t) => {
          const texts = score.tracks[t]!.events.filter((e) => e.type !== META_TRACK_NAME);
          return n + texts.length;
        }, 0)
      );
    }, 0);
    const struck = pieces.reduce((n, piece) => n + velocitiesLost(piece, target), 0);
    const losses = [
      { what: 'events of tracks that are left out', count: behind },
      { what: 'velocities, which the target does not keep', count: struck },
    ];
    return { files, losses: losses.filter((l) => l.count > 0) };
  },
});
