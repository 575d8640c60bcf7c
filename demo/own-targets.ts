import { parseTarget } from '../src/core/target/parse';
import type { Target } from '../src/core/target/schema';

const checked = (data: unknown): Target => {
  const { target, problems } = parseTarget(data);
  if (!target) throw new Error(problems.map((p) => `${p.path}: ${p.says}`).join('\n'));
  return target;
};
const notes = { of: 'notes' };

/** A lane game of two people in Saltmarsh: steps on four stones, told as JSON. */
export const heronSteps = checked({
  schemaVersion: 1,
  id: 'heron-steps',
  version: '1.0.0',
  name: 'Heron steps',
  summary: 'A game of two neighbours: four stones, stepped on in time',
  words: { target: 'the heron', note: 'step', notes: 'steps' },
  seats: [
    {
      kind: 'laneGroup',
      id: 'stones',
      name: 'Stones',
      channel: 1,
      laneNotes: [60, 62, 64, 65],
    },
  ],
  seating: { unseated: 'leave-out' },
  tempo: { constant: true, lowestBpm: 60, highestBpm: 180 },
  start: { leadInMs: 1000 },
  polyphony: { together: 2, over: 'seat' },
  limits: [
    {
      measure: 'run',
      over: 'note',
      most: 4,
      title: 'Too many steps on one stone',
      why: 'The heron falls asleep and takes no more of them',
    },
    {
      measure: 'jump',
      over: 'note',
      most: 2,
      severity: 'caution',
      title: 'A jump over two stones',
      why: 'Short legs do not reach',
    },
  ],
  metadata: { required: [{ key: 'title', longest: 24 }] },
  formats: [
    {
      formatVersion: 1,
      id: 'steps',
      name: 'Steps',
      summary: 'what the heron reads',
      files: [
        {
          path: '{file}.steps.json',
          container: {
            kind: 'json',
            indent: 1,
            root: {
              object: [
                { key: 'song', node: { value: { is: 'fact', key: 'title' } } },
                {
                  key: 'pace',
                  node: { value: { is: 'fact', key: 'bpm', kind: 'number', decimals: 2 } },
                },
                { key: 'count', node: { value: { is: 'count', of: notes } } },
                {
                  key: 'steps',
                  node: {
                    each: notes,
                    node: {
                      list: [
                        { value: { is: 'time', of: 'start', unit: 'ms' } },
                        { value: { is: 'key', as: 'lane', first: 1 } },
                        { value: { is: 'time', of: 'length', unit: 'ms' } },
                      ],
                    },
                  },
                },
              ],
            },
          },
        },
      ],
    },
  ],
  outputs: [{ writer: 'own-format', options: { format: 'steps' } }],
  checklist: ['Put the file beside the game and press the heron.'],
});

/** The lamps along the ferry rail, run by a small computer: a line for each lamp and moment. */
export const ferryLamps = checked({
  schemaVersion: 1,
  id: 'ferry-lamps',
  version: '1.0.0',
  name: 'Ferry lamps',
  summary: 'Twelve lamps along the rail of the ferry, run from a card',
  words: { target: 'the lamp card', note: 'lamp', notes: 'lamps' },
  seats: [{ kind: 'channel', id: 'lamps', name: 'Lamps', channel: 3 }],
  seating: { unseated: 'leave-out' },
  notes: { lowest: 48, highest: 59 },
  length: { shortestMs: 80 },
  spacing: { sameKeyApartMs: 200 },
  end: { mostBars: 400 },
  formats: [
    {
      formatVersion: 1,
      id: 'lamp-card',
      name: 'Lamp card',
      files: [
        {
          path: 'LAMPS.TXT',
          lineEnd: 'crlf',
          encoding: 'latin-1',
          container: {
            kind: 'lines',
            lines: [
              { parts: ['lamps of ', { value: { is: 'fact', key: 'title' } }] },
              {
                each: notes,
                lines: [
                  {
                    parts: [
                      { value: { is: 'time', of: 'start', unit: 'frames', rate: 20, digits: 6 } },
                      ' ',
                      { value: { is: 'key', as: 'index', from: 48, first: 1, digits: 2 } },
                      ' for ',
                      {
                        value: { is: 'time', of: 'length', unit: 'frames', rate: 20, round: 'up' },
                      },
                      ' at ',
                      { value: { is: 'velocity', most: 100 } },
                      '%',
                    ],
                  },
                ],
              },
              { parts: ['dark'] },
            ],
          },
        },
      ],
    },
  ],
  outputs: [{ writer: 'own-format', options: { format: 'lamp-card' } }],
  checklist: ['Copy LAMPS.TXT to the card, alone in its root.'],
});

/** Targets of somebody's own, as people of Saltmarsh described them. */
export const ownTargets: readonly Target[] = [heronSteps, ferryLamps];
