import * as z from 'zod';
import { silencedTracks } from '../score/layout';
import { fileOf } from '../score/to-file';
import { META_TRACK_NAME } from '../smf/file';
import { writeSmf } from '../smf/write';
import { defineWriter, safeName } from './define-writer';

export const smfWriter = defineWriter({
  id: 'smf',
  summary: 'A Standard MIDI File for each piece.',
  options: z.strictObject({}),
  write({ pieces }) {
    const files = pieces.map((piece, index) => ({
      path: withEnding(safeName(piece.delivery.fileName)),
      bytes: writeSmf(fileOf(piece)),
      piece: index,
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
    const losses =
      behind > 0 ? [{ what: 'events of tracks that are left out', count: behind }] : [];
    return { files, losses };
  },
});

/** Whatever the source was called, what is written is a MIDI file. */
const withEnding = (name: string) =>
  /\.midi?$/i.test(name) ? name : `${name.replace(/\.[^.]*$/, '')}.mid`;
