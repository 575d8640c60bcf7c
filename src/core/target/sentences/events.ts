import { ANY, GRAVE, named, s, type Subject } from './sentence';

/** What is said of events that are no notes: refused ones, curves, captions and the like. */
export const EVENTS: readonly Subject[] = [
  {
    id: 'refuses',
    title: 'What it chokes on',
    of: 'events and text it cannot take',
    sentences: [
      s(
        'Controllers {events.controllers:controllers}',
        { 'events.controllers': 'none' },
        'controllers',
      ),
      s(
        'The controllers {events.controllersWithout} are refused',
        { 'events.controllersWithout': [64] },
        'controllers it refuses',
      ),
      s(
        'The controllers {events.controllersOnceAtStart} come once each, at the start',
        { 'events.controllersOnceAtStart': [7] },
        'controllers once at the start',
      ),
      s(
        'Program changes: {events.programs|any=taken|none=refused|one-at-start=at most one a channel, before its first note|of-seat=one at the start, out of the sounds of the seat}',
        { 'events.programs': 'none' },
        'program changes',
      ),
      s(
        'Channels without a note {events.silentChannels|any=may be there|none=may not be there}',
        { 'events.silentChannels': 'none' },
        'channels without a note',
      ),
      s(`Pitch bends {events.bends|${ANY}}`, { 'events.bends': 'none' }, 'pitch bends'),
      s(
        'Aftertouch {events.aftertouch|any=is taken|none=is refused}',
        { 'events.aftertouch': 'none' },
        'aftertouch',
      ),
      s(
        `System exclusive messages {events.sysex|${ANY}}`,
        { 'events.sysex': 'none' },
        'system exclusive',
      ),
      s(
        `Meta events that the standard does not name {events.unknownMeta|${ANY}}`,
        { 'events.unknownMeta': 'none' },
        'unknown meta events',
      ),
      s(
        'At most {text.mostTrackNames} tracks have a name',
        { 'text.mostTrackNames': 0 },
        'track names',
      ),
      s(
        'Markers: {text.markers|any=taken|none=refused|loop-marker=only that of the loop}',
        { 'text.markers': 'none' },
        'markers',
      ),
      s(
        'A marker has at most {text.longestMarker} letters',
        { 'text.longestMarker': 16 },
        'the longest marker',
      ),
      s(
        'Markers are in {text.markerLetters|any=any letters|printable-ascii=plain ASCII}',
        { 'text.markerLetters': 'printable-ascii' },
        'the letters of markers',
      ),
      s(
        'Lyrics, cue points and other text {text.others|any=are taken|none=are refused}',
        { 'text.others': 'none' },
        'other text',
      ),
    ],
  },
  {
    id: 'curves',
    title: 'Presets, switches and levels',
    of: 'presets, switches or levels',
    sentences: [
      s(
        'It has presets, each a program with its bank',
        { 'presets.list': [{ bank: 0, program: 0, name: 'Preset 1' }] },
        'presets',
        { whole: 'presets' },
      ),
      s(
        'A bank stands at most {presets.bankWithinMs} ms before its program',
        { 'presets.bankWithinMs': 20 },
        'how near a bank stands to its program',
        { needs: 'presets' },
      ),
      s(
        'The first preset stands at the very start',
        { 'presets.firstAtStart': true },
        'a preset at the start',
        { needs: 'presets' },
      ),
      s(
        'From one preset to the next it takes {presets.apartMs} ms',
        { 'presets.apartMs': 150 },
        'how soon another preset comes',
        { needs: 'presets' },
      ),
      s(
        'A preset takes {presets.loadMs} ms to load',
        { 'presets.loadMs': 35 },
        'how long a preset loads',
        { needs: 'presets' },
      ),
      s(
        'A preset stands {presets.leadLeastMs} to {presets.leadMostMs} ms before {presets.leadTo|markers=its marker|bars=its bar line}',
        { 'presets.leadLeastMs': 35, 'presets.leadMostMs': 120, 'presets.leadTo': 'markers' },
        'how early a preset stands',
        { needs: 'presets' },
      ),
      s(
        `A preset that is there already {presets.again|${GRAVE}} not be chosen again`,
        { 'presets.again': 'caution' },
        'presets chosen again',
        { needs: 'presets' },
      ),
      s(
        'It listens to controllers that move, or to the bend',
        { 'curves.list': [{ name: 'Expression', controllers: [11] }] },
        'switches and levels',
        { whole: 'curves' },
      ),
      s(
        'It takes {curves.perSecond} values a second of all of them together',
        { 'curves.perSecond': 300 },
        'how many values a second in all',
        { needs: 'switches and levels' },
      ),
    ],
    cards: [
      {
        path: 'presets.list',
        one: 'preset',
        more: 'a preset',
        first: (n) => ({ bank: 0, program: n - 1, name: `Preset ${n}` }),
        kinds: {
          '': {
            name: 'preset',
            sentences: [
              named,
              s('It is program {program} of bank {bank}', { program: 0, bank: 0 }),
              s('It switches on {on:numbers} by itself', { on: [80] }, 'what it switches on'),
            ],
          },
        },
      },
      {
        path: 'curves.list',
        one: 'curve',
        more: 'a switch or a level',
        first: (n) => ({ name: `Level ${n}`, controllers: [n === 1 ? 11 : 19 + n] }),
        kinds: {
          '': {
            name: 'curve',
            sentences: [
              named,
              s(
                'It is told by the controllers {controllers:numbers}',
                { controllers: [11] },
                'its controllers',
              ),
              s('It is the pitch bend', { bend: true }, 'the pitch bend'),
              s(
                'It knows only the values {values:numbers}',
                { values: [0, 127] },
                'the values it knows',
              ),
              s('It lies between {lowest} and {highest}', { lowest: 0, highest: 127 }, 'its range'),
              s(
                'It takes {perSecond} values a second',
                { perSecond: 50 },
                'how many values a second',
              ),
              s(
                'From one value to the next it takes {apartMs} ms',
                { apartMs: 25 },
                'how soon another value comes',
              ),
              s(
                'It moves by {mostJump} at once, and no further',
                { mostJump: 24 },
                'how far it jumps',
              ),
              s(
                'It moves from nothing to full in {slewMs} ms',
                { slewMs: 80 },
                'how fast it moves',
              ),
              s(
                'It rests for {settledMs} ms before a preset',
                { settledMs: 10 },
                'rest before a preset',
              ),
              s(
                'While a preset loads it is {whileLoading|missed=missed|heard=heard}',
                { whileLoading: 'missed' },
                'what becomes of it while a preset loads',
              ),
              s('At the end it stands at {rest}', { rest: 0 }, 'where it rests at the end'),
              s(
                'It {severity|stop=must|caution=should|remark=is worth knowing when it does not} hold',
                { severity: 'caution' },
                'how grave it is',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'lists',
    title: 'Captions, frames, strands, patterns',
    of: 'captions, frames, strands or patterns',
    sentences: [
      s(
        'The note {captions.noteNumber:key} turns to the next caption, of at most {captions.mostLines} lines of {captions.longestLine} characters',
        { 'captions.noteNumber': 127, 'captions.mostLines': 2, 'captions.longestLine': 32 },
        'captions',
        { whole: 'captions' },
      ),
      s(
        'It turns {captions.leadLeastMs} to {captions.leadMostMs} ms before the word is sung',
        { 'captions.leadLeastMs': 50, 'captions.leadMostMs': 400 },
        'how early a caption turns',
        { needs: 'captions' },
      ),
      s(
        'It runs at {frames.perSecond} frames a second, and ends by {frames.endings|round-again=going round again|rest-at-end=resting}',
        { 'frames.perSecond': [25], 'frames.endings': ['rest-at-end'] },
        'frames',
        { whole: 'frames' },
      ),
      s(
        'Everything can be shifted by {frames.shiftLowest} to {frames.shiftHighest} frames',
        { 'frames.shiftLowest': -25, 'frames.shiftHighest': 25 },
        'a shift in frames',
        { needs: 'frames' },
      ),
      s(
        'Each part is a strand of cues that carry {strands.values|note-name=the name of the note|note-number=the note number|velocity=the velocity|length=the length|none=nothing}',
        { 'strands.values': ['note-number'] },
        'strands of cues',
        { whole: 'strands' },
      ),
      s(
        'It listens to strands called {strands.names}',
        { 'strands.names': ['lamp'] },
        'the names of strands',
        { needs: 'strands of cues' },
      ),
      s(
        'The patterns {chains.patterns} are played in a chain of at most {chains.mostLinks} links, each at most {chains.mostRepeats} times, shifted by {chains.shiftLowest} to {chains.shiftHighest} semitones',
        {
          'chains.patterns': ['A', 'B'],
          'chains.mostLinks': 16,
          'chains.mostRepeats': 8,
          'chains.shiftLowest': -12,
          'chains.shiftHighest': 12,
        },
        'chains of patterns',
        { whole: 'chains' },
      ),
    ],
  },
];
