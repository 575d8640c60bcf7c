import { FACT_WORDS } from '../facts';
import { named, s, type Subject } from './sentence';

/** Facts that are asked for most, in the order in which they are offered. */
const FACTS = Object.keys(FACT_WORDS);

/** What is said of files, of facts that are asked for, and of the far side. */
export const DELIVERY: readonly Subject[] = [
  {
    id: 'files',
    title: 'Its files',
    of: 'its MIDI file or file names',
    sentences: [
      s(
        'It reads SMF format {file.formats|0=0|1=1|2=2}',
        { 'file.formats': [0] },
        'the SMF formats it reads',
      ),
      s(
        'It is given SMF format {file.deliverFormat|0=0|1=1}',
        { 'file.deliverFormat': 0 },
        'the format it is given',
      ),
      s(
        'Tracks {file.layout|as-is=stay as they are|single=become one|conductor-first=follow one for tempo and markers}',
        { 'file.layout': 'conductor-first' },
        'how tracks are laid out',
      ),
      s(
        'At most {file.mostNoteTracks} tracks have notes',
        { 'file.mostNoteTracks': 16 },
        'how many tracks with notes',
      ),
      s(
        'The file has at most {file.mostBytes} bytes',
        { 'file.mostBytes': 65536 },
        'how large the file may be',
      ),
      s(
        'Its PPQ is a multiple of {file.ppq.multipleOf}',
        { 'file.ppq.multipleOf': 24 },
        'a multiple for its PPQ',
      ),
      s(
        'Its PPQ lies between {file.ppq.lowest} and {file.ppq.highest}',
        { 'file.ppq.lowest': 24, 'file.ppq.highest': 960 },
        'the lowest and the highest PPQ',
      ),
      s('Its PPQ is {file.ppq.only}', { 'file.ppq.only': [480] }, 'a list of PPQs'),
      s(
        'A file name has at most {naming.longest} letters out of {naming.letters|any=any|A-Z0-9=A–Z and 0–9|a-z0-9=a–z and 0–9|A-Za-z0-9=A–Z, a–z and 0–9} and ends in {naming.ending}',
        { 'naming.longest': 8, 'naming.letters': 'A-Z0-9', 'naming.ending': '.mid' },
        'file names',
        { whole: 'naming' },
      ),
      s(
        'The name begins with {naming.prefixes}',
        { 'naming.prefixes': ['01'] },
        'how a name begins',
        { needs: 'file names' },
      ),
      s('The name is one of {naming.only}', { 'naming.only': ['A'] }, 'a list of names', {
        needs: 'file names',
      }),
      s(
        'A card holds at most {card.mostFiles} files',
        { 'card.mostFiles': 100 },
        'how many files a card holds',
      ),
      s(
        'A card holds at most {card.mostBytes} bytes',
        { 'card.mostBytes': 8_000_000 },
        'how much a card holds',
      ),
      s(
        'A card holds at most {card.mostFolders} folders',
        { 'card.mostFolders': 16 },
        'how many folders a card holds',
      ),
      s(
        'File names on a card begin with the number of the song, of {card.digits} digits',
        { 'card.digits': 2 },
        'numbers before the names on a card',
      ),
      s(
        'All songs of a card have the same {card.same|tempo=tempo|ppq=PPQ|kit=kit}',
        { 'card.same': ['ppq'] },
        'what all songs of a card have alike',
      ),
      s(
        'In rehearsal {standIn|chart-game=a lane game|crate-pedal=a drum pedal|voices=voltage voices|frame-player=a frame deck|ledger=a game engine|prompter=a prompter|organ=a strip organ|tempo-reader=a tempo reader|cue-player=a cue player|pads=loop pads|effects-pedal=an effects pedal|dimmer-bank=a dimmer bank|sequencer=a sequencer|own-player=a player of its own format} stands in',
        { standIn: 'sequencer' },
        'what stands in for it in rehearsal',
      ),
    ],
    cards: [
      {
        path: 'formats',
        one: 'format',
        more: 'a file format of its own',
        first: (n) => ({
          formatVersion: 1,
          id: `own-${n}`,
          name: 'Own format',
          files: [
            {
              path: '{file}.txt',
              container: {
                kind: 'table',
                rows: { of: 'notes' },
                columns: [
                  { name: 'ms', value: { is: 'time', of: 'start', unit: 'ms' } },
                  { name: 'note', value: { is: 'key', as: 'number' } },
                ],
              },
            },
          ],
        }),
        kinds: {
          '': {
            name: 'format',
            sentences: [
              named,
              s('It is for {summary}', { summary: 'the far side' }, 'what it is for'),
              s('{files:format-files}', { files: [] }),
              s('All its files are packed into {zip}', { zip: 'delivery.zip' }, 'one pack of all'),
            ],
          },
        },
      },
      {
        path: 'outputs',
        one: 'file',
        more: 'a file that it gets',
        first: () => ({ writer: 'smf' }),
        kinds: {
          '': {
            name: 'file',
            sentences: [
              s(
                'It gets {writer|smf=a MIDI file|time-list=a list of notes with clock times|tempo-map=a tempo map|chart=a chart|captions=captions|crate=a folder of songs|frames=a list of frames|strands=a file of strands|hole-list=a list of holes|strip-sheet=a sheet to print|chain=a chain of patterns|sound-link=a sound with markers|sound=its sound as WAV|own-format=a file of its own format}',
                { writer: 'smf' },
              ),
              s(
                'With the columns {options.columns}',
                { 'options.columns': 'number, note, ms' },
                'its columns (list of notes)',
              ),
              s(
                'Decimals have a {options.decimal|point=point|comma=comma}',
                { 'options.decimal': 'comma' },
                'its decimal sign (list of notes)',
              ),
              s(
                'A sample has {options.bits|16=16|24=24} bits',
                { 'options.bits': 24 },
                'bits a sample (WAV)',
              ),
              s(
                'The format is {options.format:format}',
                { 'options.format': '' },
                'which format of its own',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'told',
    title: 'What it asks to be told',
    of: 'facts that go with the music',
    sentences: [],
    cards: [
      {
        path: 'metadata.required',
        one: 'fact',
        more: 'a fact that it asks for',
        first: (n) => ({ key: FACTS[n - 1] ?? `fact ${n}` }),
        kinds: {
          '': {
            name: 'fact',
            sentences: [
              s('It asks for the {key:fact}', { key: 'title' }),
              s('It has at most {longest} letters', { longest: 40 }, 'the longest it shows'),
              s(
                "Its letters are {letters|any=any|printable-ascii=plain ASCII|A-Za-z0-9 '-=letters, digits, space, hyphen}",
                { letters: 'printable-ascii' },
                'the letters it shows',
              ),
              s('It may be left open', { optional: true }, 'it may be left open'),
              s(
                'It is {kind|text=any text|number=a number|date=a date, such as 2026-11-29|choice=one of a list|file-name=the name of a file}',
                { kind: 'number' },
                'what kind of value it is',
              ),
              s('It is one of {choices}', { choices: ['Day', 'Night'] }, 'the values it can have'),
              s(
                'It is taken from {from|file-name=the name of the file|first-marker=the first marker|first-text=the first text event|track-name=the name of the first track}',
                { from: 'file-name' },
                'where the source knows it',
              ),
            ],
          },
        },
      },
    ],
  },
  {
    id: 'there',
    title: 'What to do at the far side',
    of: 'what to do there',
    sentences: [s('{checklist:lines}', { checklist: [] })],
  },
];
