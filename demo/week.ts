import type { PlanStep } from '../src/core/plan/plan';
import type { SourceUse } from '../src/core/sources/use';
import * as curves from './curve-tunes';
import { eelMarket } from './modules/eel-market';
import { writeXm } from './modules/write-xm';
import * as more from './more-tunes';
import * as procession from './procession';
import { recordingOf } from './recordings';
import * as tunes from './tunes';

/** A job of the demo as it is seeded into the browser. */
export interface DemoJob {
  readonly id: string;
  readonly title: string;
  readonly file: string;
  /** Sources beside the first. */
  readonly further?: readonly { readonly key: string; readonly file: string }[];
  /** The recording that plays beside it; made by the build and not kept in the repository. */
  readonly sound?: string;
  readonly targets: readonly {
    readonly id: string;
    readonly uses?: readonly SourceUse[];
    readonly steps: readonly PlanStep[];
  }[];
}

/** A file of the week, and what writes it. */
type Bytes = () => Uint8Array;

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

/** As people play who listen to each other and not to a click: up to a second ahead and behind. */
const freely = (ms: number) =>
  ms + 620 * Math.sin(ms / 9800) + 170 * (1 - Math.cos(ms / 3700)) + 60 * Math.sin(ms / 1900);

export const week: readonly (DemoJob & {
  readonly bytes: Bytes;
  readonly furtherBytes?: Readonly<Record<string, Bytes>>;
  readonly soundBytes?: Bytes;
})[] = [
  {
    id: 'demo-turn-of-the-tide',
    title: 'Turn of the tide',
    file: 'turn-of-the-tide.mid',
    bytes: tunes.turnOfTheTide,
    sound: 'turn-of-the-tide.wav',
    // Three bars of 3/4 at 96 BPM stand before it, which the export of the score swallowed.
    soundBytes: () => recordingOf(tunes.turnOfTheTide(), { rest: 5625 }),
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
    sound: 'harbour-office-evening.wav',
    soundBytes: () =>
      recordingOf(tunes.harbourOfficeTempo(), { rest: 740, played: freely, stops: true }),
    targets: [{ id: 'tempo-carrier', steps: [] }],
  },
  {
    id: 'demo-ebb-and-flood',
    title: 'Ebb and flood',
    file: 'ebb-and-flood.mid',
    bytes: more.ebbAndFlood,
    targets: [{ id: 'marsh-duel', steps: [] }],
  },
  {
    id: 'demo-chanter-over-drone',
    title: 'Chanter over drone',
    file: 'chanter-over-drone.mid',
    bytes: more.chanterOverDrone,
    sound: 'chanter-over-drone.wav',
    soundBytes: () => recordingOf(more.chanterOverDrone(), { played: (ms) => ms * 1.004 }),
    targets: [{ id: 'reed-ladder', steps: [] }],
  },
  {
    id: 'demo-quay-stomp',
    title: 'Quay stomp',
    file: 'quay-stomp.mid',
    bytes: more.quayStomp,
    targets: [{ id: 'stomp-crate', steps: [] }],
  },
  {
    id: 'demo-boat-shed-loop',
    title: 'Boat shed loop',
    file: 'boat-shed-loop.mid',
    bytes: more.boatShedLoop,
    targets: [{ id: 'pattern-pads', steps: [] }],
  },
  {
    id: 'demo-paper-march',
    title: 'Paper march',
    file: 'paper-march.mid',
    bytes: more.paperMarch,
    targets: [{ id: 'strip-organ', steps: [] }],
  },
  {
    id: 'demo-last-ferry-waltz',
    title: 'Last ferry waltz',
    file: 'last-ferry-waltz.mid',
    bytes: more.lastFerryWaltz,
    sound: 'last-ferry-waltz.wav',
    soundBytes: () => recordingOf(more.lastFerryWaltz(), { loop: true }),
    targets: [{ id: 'ferry-barrel', steps: [] }],
  },
  {
    id: 'demo-tide-table',
    title: 'Tide table',
    file: 'tide-table.mid',
    bytes: more.tideTable,
    targets: [{ id: 'tide-voices', steps: [] }],
  },
  {
    id: 'demo-horns-at-dusk',
    title: 'Horns at dusk',
    file: 'horns-at-dusk.mid',
    bytes: more.hornsAtDusk,
    sound: 'horns-at-dusk.wav',
    soundBytes: () => recordingOf(more.hornsAtDusk()),
    targets: [{ id: 'fog-pier', steps: [] }],
  },
  {
    id: 'demo-lantern-song',
    title: 'Lantern song',
    file: 'lantern-song.mid',
    bytes: more.lanternSong,
    targets: [{ id: 'song-board', steps: [] }],
  },
  {
    id: 'demo-net-menders-study',
    title: 'Net menders’ study',
    file: 'net-menders-study.mid',
    bytes: more.netMendersStudy,
    targets: [{ id: 'two-hand-scroll', steps: [] }],
  },
  {
    id: 'demo-shutter-run',
    title: 'Shutter run',
    file: 'shutter-run.mid',
    bytes: more.shutterRun,
    targets: [{ id: 'frame-deck', steps: [] }],
  },
  {
    id: 'demo-marsh-ambience',
    title: 'Marsh ambience',
    file: 'marsh-ambience.mid',
    bytes: more.marshAmbience,
    targets: [{ id: 'cue-ledger', steps: [] }],
  },
  {
    id: 'demo-parlour-evening',
    title: 'Parlour evening',
    file: 'parlour-evening.mid',
    bytes: more.parlourEvening,
    targets: [{ id: 'parlour-keyboard', steps: [] }],
  },
  {
    id: 'demo-night-procession',
    title: 'Night procession',
    file: 'procession drums.mid',
    bytes: procession.processionDrums,
    further: [
      { key: 'bells', file: 'procession bells.mid' },
      { key: 'cues', file: 'procession cues.mid' },
    ],
    furtherBytes: { bells: procession.processionBells, cues: procession.processionCues },
    targets: [
      {
        id: 'parlour-keyboard',
        uses: [{ source: 'main', as: 'together', rules: true }],
        steps: [],
      },
    ],
  },
  {
    id: 'demo-salt-in-the-wires',
    title: 'Salt in the wires',
    file: 'salt-in-the-wires.mid',
    bytes: curves.saltInTheWires,
    targets: [{ id: 'brine-box', steps: [] }],
  },
  {
    id: 'demo-along-the-gallery',
    title: 'Along the gallery',
    file: 'along-the-gallery.mid',
    bytes: curves.alongTheGallery,
    targets: [{ id: 'lamp-gallery', steps: [] }],
  },
  {
    id: 'demo-two-in-one-boat',
    title: 'Two in one boat',
    file: 'two-in-one-boat.mid',
    bytes: more.twoInOneBoat,
    targets: [{ id: 'reed-ladder', steps: [] }],
  },
  {
    id: 'demo-rope-walk',
    title: 'Rope walk',
    file: 'rope-walk.mid',
    bytes: more.ropeWalk,
    targets: [{ id: 'parlour-keyboard', steps: [] }],
  },
  {
    id: 'demo-torn-page',
    title: 'Torn page',
    file: 'torn-page.mid',
    bytes: tunes.tornPage,
    targets: [{ id: 'lantern-rail', steps: [] }],
  },
  {
    id: 'demo-eel-market',
    title: 'Eel market',
    file: 'eel-market.xm',
    bytes: () => writeXm(eelMarket()),
    targets: [
      { id: 'parlour-keyboard', steps: [] },
      { id: 'stomp-crate', steps: [] },
    ],
  },
];

/** Those whose source is a MIDI file. */
export const smfWeek = week.filter((j) => j.file.endsWith('.mid'));
