import type { PlanStep } from '../src/core/plan/model';
import * as tunes from './tunes';

/** A job of the demo as it is seeded into the browser. */
export interface DemoJob {
  readonly id: string;
  readonly title: string;
  readonly file: string;
  readonly targets: readonly { readonly id: string; readonly steps: readonly PlanStep[] }[];
}

const part = (track: string, channel: number) => ({
  source: 'main',
  track,
  channel,
  occurrence: 0,
});

const lamps = part('Lamp cues', 16);
const shutters = part('Shutter cues', 3);
const treble = part('Treble bells', 1);
const tenor = part('Tenor bells', 2);
const drum = part('Clapper drum', 10);

const step = (key: string, name: string, params: unknown, ...parts: object[]): PlanStep => ({
  key,
  step: name,
  params,
  scope: { parts: parts as never },
  on: true,
});
const rail = { seat: 'cue-line', channel: 16, track: 'Cue line' };
const loft = { seat: 'bells', channel: 1 };

export const week: readonly (DemoJob & { readonly bytes: () => Uint8Array })[] = [
  {
    id: 'demo-turn-of-the-tide',
    title: 'Turn of the tide',
    file: 'turn-of-the-tide.mid',
    bytes: tunes.turnOfTheTide,
    targets: [
      {
        id: 'lantern-rail',
        steps: [
          step('seat-cues', 'route', rail, lamps, shutters),
          step('leave-bells', 'leave-out', {}, treble, tenor, drum),
        ],
      },
      {
        id: 'bell-loft',
        steps: [
          step('seat-bells', 'route', loft, treble, tenor),
          step('leave-cues', 'leave-out', {}, lamps, shutters, drum),
        ],
      },
    ],
  },
  {
    id: 'demo-salt-bell-round',
    title: 'Salt bell round',
    file: 'salt bell round (final) v2.mid',
    bytes: tunes.saltBellRound,
    targets: [{ id: 'bell-loft', steps: [] }],
  },
  {
    id: 'demo-ninety-lanterns',
    title: 'Ninety lanterns',
    file: 'ninety-lanterns.mid',
    bytes: tunes.ninetyLanterns,
    targets: [{ id: 'lantern-rail', steps: [] }],
  },
  {
    id: 'demo-long-causeway',
    title: 'The long causeway',
    file: 'the-long-causeway.mid',
    bytes: tunes.longCauseway,
    targets: [{ id: 'bell-loft', steps: [] }],
  },
  {
    id: 'demo-harbour-office',
    title: 'Harbour office tempo',
    file: 'harbour-office-tempo.mid',
    bytes: tunes.harbourOfficeTempo,
    targets: [{ id: 'tempo-carrier', steps: [] }],
  },
  {
    id: 'demo-torn-page',
    title: 'Torn page',
    file: 'torn-page.mid',
    bytes: tunes.tornPage,
    targets: [{ id: 'lantern-rail', steps: [] }],
  },
];
