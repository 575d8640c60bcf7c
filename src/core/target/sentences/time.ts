import { s, type Subject } from './sentence';

/** What is said of start, tempo, meter and end. */
export const TIME: readonly Subject[] = [
  {
    id: 'start',
    title: 'Start',
    of: 'the start',
    sentences: [
      s(
        'The first note comes at {start.leadInMs} ms or later',
        { 'start.leadInMs': 1000 },
        'the earliest first note',
      ),
      s(
        'Nothing but what stands at tick 0 comes before {start.quietMs} ms',
        { 'start.quietMs': 500 },
        'when it is awake',
      ),
      s(
        'The first note comes after {start.leadInBars} whole bars of rest',
        { 'start.leadInBars': 1 },
        'bars of rest first',
      ),
      s(
        'The music begins in bar 1, with no empty bar before it',
        { 'start.inBar1': true },
        'it begins in bar 1',
      ),
      s(
        'The rest at the start is in the sound file as well',
        { 'start.soundToo': true },
        'the rest is in the sound as well',
      ),
      s(
        '{clock.of|every-note=Every note|first-note=The first note} stands within {clock.withinMs} ms of its clock time; {clock.shift|common=one shift for all is allowed|none=no shift is allowed}',
        { 'clock.of': 'every-note', 'clock.withinMs': 5, 'clock.shift': 'common' },
        'clock time is held',
        { whole: 'clock' },
      ),
    ],
  },
  {
    id: 'tempo',
    title: 'Tempo and meter',
    of: 'tempo or meter',
    sentences: [
      s('One tempo, at the very start', { 'tempo.constant': true }, 'one tempo'),
      s(
        'Tempos lie between {tempo.lowestBpm} and {tempo.highestBpm} BPM',
        { 'tempo.lowestBpm': 60, 'tempo.highestBpm': 180 },
        'the slowest and the fastest',
      ),
      s(
        'It has only the tempos {tempo.onlyBpm} BPM',
        { 'tempo.onlyBpm': [120] },
        'a list of tempos',
      ),
      s('Tempos are whole numbers of BPM', { 'tempo.wholeBpm': true }, 'whole numbers of BPM'),
      s(
        'At most {tempo.mostEvents} changes of tempo',
        { 'tempo.mostEvents': 1 },
        'how many changes of tempo',
      ),
      s(
        'From one tempo to the next it takes {tempo.apartMs} ms',
        { 'tempo.apartMs': 1000 },
        'how soon the tempo changes again',
      ),
      s(
        'The BPM that is declared is within {tempo.declaredWithinBpm} of the first tempo',
        { 'tempo.declaredWithinBpm': 0.5 },
        'a declared BPM',
      ),
      s('One meter throughout', { 'meter.constant': true }, 'one meter'),
      s(
        'It has only the meters {meter.only:meters}',
        { 'meter.only': [{ numerator: 4, denominator: 4 }] },
        'a list of meters',
      ),
    ],
  },
  {
    id: 'end',
    title: 'End',
    of: 'the end',
    sentences: [
      s('The piece ends on a bar line', { 'end.wholeBars': true }, 'it ends on a bar line'),
      s(
        'It is {end.leastBars} to {end.mostBars} bars long',
        { 'end.leastBars': 1, 'end.mostBars': 64 },
        'the fewest and the most bars',
      ),
      s('It is {end.onlyBars} bars long', { 'end.onlyBars': [8] }, 'a list of lengths'),
      s('Something sounds in the last bar', { 'end.filled': true }, 'the last bar is filled'),
      s('All tracks end together', { 'end.tracksEqual': true }, 'all tracks end together'),
      s('No note sounds past the end', { 'end.nothingPast': true }, 'nothing past the end'),
      s(
        'The piece goes on for {end.tailMs} ms behind its last event',
        { 'end.tailMs': 1000 },
        'a tail behind the last event',
      ),
      s('It is played round again', { 'end.loops': true }, 'it goes round again'),
      s(
        'The loop begins at the one marker {end.loopMarker}',
        { 'end.loopMarker': 'LOOP' },
        'the marker of the loop',
      ),
      s('The loop is whole bars long', { 'end.loopWholeBars': true }, 'the loop is whole bars'),
      s(
        'It is as long as its sound file, within {end.soundWithinMs} ms',
        { 'end.soundWithinMs': 20 },
        'as long as its sound, in ms',
      ),
      s(
        'It is as long as its sound file, within {end.soundWithinFrames} frames',
        { 'end.soundWithinFrames': 1 },
        'as long as its sound, in frames',
      ),
    ],
  },
];
