/** Why people meet a rule, and what its mends do; for its page in the reference. */
export interface RuleStory {
  readonly why: string;
  readonly mends: string;
}

export const stories: Readonly<Record<string, RuleStory>> = {
  damage: {
    why: 'A copy was cut off, a transfer flipped bytes, or a program wrote what the standard does not allow.',
    mends:
      'None: the source is never changed. What was readable is in the score; the handover is written clean.',
  },
  sequences: {
    why: 'An old song book or a groove collection keeps many pieces in one file of format 2.',
    mends: 'None: which one is meant is yours to say. The first that holds notes is taken.',
  },
  division: {
    why: 'A film or show program counts frames, so that its file has neither tempo nor bars.',
    mends: 'Every note stays at its clock time and is written at one tempo, finely enough.',
  },
  'nothing-delivered': {
    why: 'Every part was left out, or had no seat: the file is right in form, and silent.',
    mends: 'None: who plays is chosen in Seating.',
  },
  'stuck-note': {
    why: 'A recording was stopped while a key was down, or an edit removed a note-off and left its note-on.',
    mends:
      'Each gives the note an end: at the next note on its key, with its bar, or after the usual length of the part.',
  },
  'note-off-alone': {
    why: 'A stretch was cut out of a longer song: the note began before the cut and ends after it.',
    mends: 'They are taken out; nothing that sounds is touched.',
  },
  overlap: {
    why: 'A pedal or a long decay was drawn into the notes, or two tracks were merged into one.',
    mends:
      'The earlier note ends where the later begins; of notes struck twice at once the longest stays.',
  },
  'zero-length': {
    why: 'A grid was coarser than the notes, or a drum editor writes hits without a length.',
    mends: 'They are left out. To keep them, lengthen them by hand with the step “Lengthen”.',
  },
  seating: {
    why: 'The session has more parts than the target has seats, or channels were numbered otherwise.',
    mends:
      'Seat the part, move it to the channel of its seat, split it by hand where both hands are on it, or leave it out.',
  },
  channels: {
    why: 'Drum tracks are exported on the channel of the session, not on that of the device.',
    mends: 'The part moves to the channel, or is left out.',
  },
  'strand-names': {
    why: 'A track was renamed in the session, and the game still listens for its old name.',
    mends: 'None: names are yours to choose. Join parts of one name with the step “Join parts”.',
  },
  'tempo-absent': {
    why: 'The export of a single track often leaves the tempo behind.',
    mends: 'The tempo that readers assume, 120 BPM, is written at the start.',
  },
  'meter-absent': {
    why: 'Drum editors and loops often name no meter.',
    mends: 'The meter that readers assume, 4/4, is written at the start.',
  },
  'tempo-constant': {
    why: 'The session follows a live recording; the target counts one tempo.',
    mends:
      'Hold every note at its clock time and rewrite the bars, or keep the bars and let the clock move.',
  },
  'tempo-range': {
    why: 'A song was counted at half or double time.',
    mends: 'Hold clock time at a tempo that is allowed, or bring each tempo to the nearest limit.',
  },
  'tempo-allowed': {
    why: 'A tempo was tapped or measured, and has decimals that a display does not show.',
    mends:
      'Hold clock time at the nearest tempo that it has, or move each tempo there and let the clock follow.',
  },
  'tempo-count': {
    why: 'A tempo curve was drawn, and is written as hundreds of small steps.',
    mends: 'The likest neighbours are merged so that the clock agrees again behind them.',
  },
  'meter-constant': {
    why: 'A bar was cut short by hand, or a pick-up was written as a meter of its own.',
    mends: 'All is counted in the first meter; the notes stay where they are.',
  },
  'meter-allowed': {
    why: 'A piece in compound time goes to a device that counts in quarters.',
    mends: 'All is counted in a meter that is allowed; the notes stay where they are.',
  },
  'same-in-all': {
    why: 'Files of one song were exported on different days, or carved out of a song that changes its tempo.',
    mends: 'All take the tempo or the meter of the first file.',
  },
  ppq: {
    why: 'Every program has its own resolution, and some devices divide it by a fixed clock.',
    mends:
      'The same music is written with an allowed number of ticks; a start moves by half a tick at most.',
  },
  'clock-time': {
    why: 'A step moved notes that must stay beside a recording.',
    mends: 'None: switch the step off, or use one that holds clock time.',
  },
  'start-rest': {
    why: 'An export begins at the first note and swallows the opening rest.',
    mends: 'Whole bars of rest are put back; what sets up the piece stays at the start.',
  },
  'first-note': {
    why: 'Motors, boilers and loading screens need a moment that a song does not know of.',
    mends: 'Whole bars of rest, or the exact time that is missing.',
  },
  'early-events': {
    why: 'Set-up was recorded with the count-in, a moment behind the start.',
    mends: 'The events move to tick 0; no note hears a difference.',
  },
  'in-bar-1': {
    why: 'A loop was exported with the count-in before it.',
    mends: 'The empty bars are taken away.',
  },
  'rest-swallowed': {
    why: 'The recording begins with silence and the export of the score does not.',
    mends: 'The missing bars of rest are put back.',
  },
  'sound-lead-in': {
    why: 'A rest was added to the score and forgotten in its sound file.',
    mends: 'None here: a sound file is mended where it was made.',
  },
  'note-range': {
    why: 'A line was written for another instrument, or sounds an octave from where it is written.',
    mends:
      'Move the part by octaves, fold single notes, lay a line on lanes, or leave the notes out.',
  },
  'kit-keys': {
    why: 'Drums were played on another kit, whose sounds have other keys.',
    mends: 'Another kit that has them all, the nearest drum of the family, or without them.',
  },
  'note-count': {
    why: 'Fast hats and arpeggios fill a small memory.',
    mends: 'The smallest part that makes room enough is left out.',
  },
  'bars-alike': {
    why: 'One bar was copied along the whole pattern while the rest was still to be written.',
    mends: 'None: listen, and leave it as is where it is meant.',
  },
  velocity: {
    why: 'An export wrote one value for all, or a controller scaled past the range.',
    mends:
      'Bring them within the range, set them as they are delivered, or vary them by a stored seed.',
  },
  'flags-known': {
    why: 'A chart was begun for another version of the game.',
    mends: 'The flag is taken from its notes.',
  },
  rows: {
    why: 'A punched strip has fixed rows; a played line has not.',
    mends: 'One rate is chosen and every note moved to its rows; each rate says how much it moves.',
  },
  'row-limits': {
    why: 'Chords and repeats that a keyboard plays would tear the strip.',
    mends: 'Keep the most important holes of a row, or drop the second of two in rows running.',
  },
  'chords-together': {
    why: 'Chords that were played in are never struck at one tick.',
    mends:
      'They are struck together with their first note; a trigger key is added where there is none.',
  },
  'off-grid': {
    why: 'Programs show a quantised line and export it as it was played.',
    mends: 'The starts move to sixteenths; lengths stay.',
  },
  'at-once': {
    why: 'Chords or ringing notes on something that has one voice, or few.',
    mends: 'End each where the next begins, or keep the highest, loudest or newest.',
  },
  hands: {
    why: 'A part was split by pitch, or two players were drawn into one hand.',
    mends:
      'What cannot be reached is dropped from one side; of a shared key the first holder keeps it.',
  },
  'same-key': {
    why: 'Rolls and trills ask more of a hammer or a button than it can give.',
    mends: 'Repeats that come too soon are dropped; the first or the loudest stays.',
  },
  distance: {
    why: 'Cues were placed by ear, two of them nearly at once.',
    mends: 'Of each crowd the first or the loudest stays.',
  },
  'strikes-a-second': {
    why: 'A roll or a burst of effects is denser than the far side can follow.',
    mends: 'It is thinned out evenly.',
  },
  'shortest-note': {
    why: 'Pads and trigger clips write hits of a few ticks.',
    mends: 'They are lengthened, up to the next note on their key.',
  },
  'longest-note': {
    why: 'Held pads go to something that has breath for a moment.',
    mends: 'They are shortened to the longest that it can hold.',
  },
  'open-share': {
    why: 'Each note is short enough, and too many follow each other.',
    mends: 'Notes are shortened so that no stretch of time is too full.',
  },
  rungs: {
    why: 'A lower level was copied from a higher one.',
    mends: 'Thin the rung evenly, or drop lanes from the top or the bottom of its chords.',
  },
  holds: {
    why: 'A legato line leaves no time to let a lane go.',
    mends: 'Holds end earlier, or where the next begins.',
  },
  'channel-events': {
    why: 'A session writes level, pan and wheel whether or not anybody asked for them.',
    mends: 'They are taken out; what that does to the sound is worked out and said.',
  },
  program: {
    why: 'Programs are counted from 0 in the file and from 1 on many displays, and change on the way in live sets.',
    mends:
      'One program at the start: the first, its neighbour that the seat has, or one of the seat’s own sounds.',
  },
  'set-up-once': {
    why: 'Every save adds its own set-up to the one that was there.',
    mends: 'The first value is kept, once, at the start; what is missing gets the usual value.',
  },
  'silent-channel': {
    why: 'An empty track still sends its level.',
    mends: 'Its events are taken out, or the part is left out.',
  },
  'system-events': {
    why: 'Set-up data of another device was saved with the song.',
    mends: 'They are taken out.',
  },
  'repeated-events': {
    why: 'A session says level and pan again at every save.',
    mends: 'What says nothing new is dropped; it sounds the same.',
  },
  text: {
    why: 'Names, lyrics and remarks travel in the file whether or not the device can read them.',
    mends: 'They are taken out, shortened at a word, or spelt in plain ASCII; what goes is listed.',
  },
  captions: {
    why: 'Words and advances were made by two people.',
    mends: 'Captions are made from the lyrics or markers, broken at words, or turned earlier.',
  },
  'carrier-note': {
    why: 'Some programs drop a file without notes, and the tempo map with it.',
    mends: 'One soft note through the whole length, on a track of its own.',
  },
  places: {
    why: 'The device plays many small files; the song is one.',
    mends: 'The song is carved at its markers, or the file takes a place as it is.',
  },
  'place-length': {
    why: 'A bed was exported with its tail, or a break with a count-in.',
    mends: 'The end is set to a length that the place takes.',
  },
  'places-filled': {
    why: 'A song was carved by hand and one place forgotten.',
    mends: 'The file takes the missing place where it is the only one.',
  },
  'length-in-bars': {
    why: 'An export ends with the last note, or a beat late where a tail rings on.',
    mends: 'The end is set to a bar line: filled up, or cut with what lies beyond listed.',
  },
  'filled-to-the-end': {
    why: 'The export region was drawn longer than the music.',
    mends: 'The empty bars are taken away where the shorter length is allowed.',
  },
  'tracks-equal': {
    why: 'Each track ends with its own last note.',
    mends: 'All tracks end at the common end, or notes are cut where their track ends.',
  },
  'loop-marker': {
    why: 'The marker was named by another habit, or set by ear beside the bar line.',
    mends: 'One marker is set on a bar line; others of the name go.',
  },
  seam: {
    why: 'A level is ridden down at the end and never set again at the start.',
    mends:
      'What is in force where the loop begins is said there again, or the changes inside it are taken out.',
  },
  'sound-length': {
    why: 'Sound and score were exported with different tails.',
    mends: 'The piece ends with the sound.',
  },
  'whole-frames': {
    why: 'Musical time and frames seldom meet.',
    mends: 'The end is filled up to the next whole frame.',
  },
  'file-size': {
    why: 'Bends and controllers outnumber the notes.',
    mends: 'Events that repeat are dropped, or a part that makes room enough is left out.',
  },
  format: {
    why: 'Sequencers export one track each; many devices read one track only.',
    mends: 'The format and the layout are changed; nothing that sounds is touched.',
  },
  'file-name': {
    why: 'Names are given by people and read by small displays.',
    mends: 'The nearest name that it lists.',
  },
  'names-apart': {
    why: 'Two patterns were numbered by two people.',
    mends: 'None: give one of them another name.',
  },
  metadata: {
    why: 'A file of music does not know its title or its maker.',
    mends: 'What the file does know is offered; the rest is asked for once.',
  },
  'declared-bpm': {
    why: 'The BPM was typed from memory.',
    mends: 'Declare what the file has, or play at what is declared.',
  },
};
