import * as z from 'zod';
import { asDelivered } from '../reading/as-delivered';
import { fileOf } from '../score/to-file';
import { midiName } from '../smf/name';
import { writeSmf } from '../smf/write';
import { ALL_OF_MIDI } from './counts/kinds';
import { countSmf } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';

export const smfWriter = defineWriter({
  id: 'smf',
  summary: 'A Standard MIDI File for each piece.',
  carries: ALL_OF_MIDI,
  count: countSmf,
  options: z.strictObject({}),
  write({ pieces }, _options, target) {
    const files = pieces.map((piece, index) => ({
      path: midiName(safeName(piece.delivery.fileName)),
      bytes: writeSmf(fileOf(asDelivered(piece, target))),
      piece: index,
      holds: index,
    }));
    return { files, losses: [] };
  },
});
