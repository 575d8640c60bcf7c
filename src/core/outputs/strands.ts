import * as z from 'zod';
import { STRANDS_VERSION } from '../formats/strands';
import { deliveredEnd } from '../reading/ends';
import { heardNotes, type HeardNotes } from '../reading/heard-notes';
import { microsecondsAt } from '../reading/microseconds';
import { strandOf, strandParts } from '../reading/strands';
import { mapsOf, type Maps } from '../score/inventory';
import type { StrandChoice } from '../score/piece';
import { stemOf } from '../smf/name';
import { noteName } from '../target/words';
import { countStrands } from './counts/of-files';
import { defineWriter, safeName } from './define-writer';
import { conductorJson, soundJson } from './conducting';
import { Entries, jsonBytes, type JsonValue, type TextBytes } from './text';

export const strandsWriter = defineWriter({
  id: 'strands',
  format: 'strands',
  summary: 'Named strands of cues, as JSON.',
  carries: [
    'notes',
    'note numbers',
    'velocities',
    'lengths',
    'names',
    'tempos',
    'markers',
    'sounds',
  ],
  count: countStrands,
  options: z.strictObject({}),
  write({ pieces }, _options, _target, sound) {
    const files = pieces.map((piece, index) => {
      const maps = mapsOf(piece.score);
      const end = deliveredEnd(piece);
      const { ppq, tempos, sections } = conductorJson(piece, maps);
      const strands = strandParts(piece).map((part): JsonValue => {
        const choice = strandOf(piece, part);
        const notes = heardNotes(piece, [part]);
        return {
          name: choice.name,
          source: part.ref.source === 'main' ? piece.delivery.fileName : part.ref.source,
          kind: choice.kind,
          value: choice.value,
          cues: new Entries((entry) => writeCues(entry, notes, choice, maps)),
        };
      });
      return {
        path: `${stemOf(safeName(piece.delivery.fileName))}.strands.json`,
        holds: index,
        bytes: jsonBytes(
          {
            format: 'strands',
            version: STRANDS_VERSION,
            ppq,
            tempos,
            endTick: end,
            endUs: microsecondsAt(maps, end),
            sound: soundJson(piece, sound),
            passages: sections,
            strands,
          },
          2,
        ),
      };
    });
    return { files, losses: [] };
  },
});

function writeValue(
  out: TextBytes,
  value: StrandChoice['value'],
  { key, velocity }: HeardNotes,
  i: number,
  lengthUs: number,
): TextBytes {
  switch (value) {
    case 'note-name':
      return out.add('"').add(noteName(key[i]!)).add('"');
    case 'note-number':
      return out.int(key[i]!);
    case 'velocity':
      return out.int(velocity[i]!);
    case 'length':
      return out.int(lengthUs);
    default:
      return out.add('null');
  }
}

function writeCues(
  entry: () => TextBytes,
  notes: HeardNotes,
  { kind, value }: StrandChoice,
  maps: Maps,
) {
  for (let i = 0; i < notes.count; i++) {
    const tick = notes.start[i]!;
    const atUs = microsecondsAt(maps, tick);
    const lengthUs = microsecondsAt(maps, notes.end[i]!) - atUs;
    const span = kind === 'span';
    const out = entry().add('{ "atUs": ').int(atUs);
    out.add(', "lengthTicks": ').int(span ? notes.end[i]! - tick : 0);
    out.add(', "lengthUs": ').int(span ? lengthUs : 0);
    out.add(', "tick": ').int(tick).add(', "value": ');
    writeValue(out, value, notes, i, lengthUs).add(' }');
  }
}
