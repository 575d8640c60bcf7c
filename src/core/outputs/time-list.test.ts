import { describe, expect, it } from 'vitest';
import { builtIn, conductor, song, targetWith, Track } from '../../../testing/score-builder';
import { written } from '../../../testing/written';

const cues = () => new Track('Lamps, port').note(1, 0, 240, 60, 90).note(1, 1680, 241, 61, 1);
const lists = (options: Record<string, unknown> = {}, notes: Record<string, unknown> = {}) =>
  targetWith({
    outputs: [{ writer: 'time-list', options }],
    ...(Object.keys(notes).length > 0 ? { notes } : {}),
  });

describe('the list of times', () => {
  it('has a line a note, in order of time, with CR LF behind each', () => {
    const text = written(lists(), song([conductor(100), cues()])).text('-times.csv');
    expect(text).toBe(
      'number,cue,note,name,place,clock,ms,length ms,marker,part,caption\r\n' +
        '1,61,60,C4,1.1+0,0:00.000,0,300,,"Lamps, port",\r\n' +
        '2,62,61,C♯4,1.4+240,0:02.100,2100,301.25,,"Lamps, port",\r\n',
    );
  });

  it('counts cues from the lowest note that the target has', () => {
    const rows = written(lists({}, { lowest: 24, highest: 90 }), song([conductor(), cues()]));
    expect(rows.rows('-times.csv').map((r) => r[1])).toEqual(['37', '38']);
  });

  it('columns that were chosen stand in the list’s own order', () => {
    const only = written(lists({ columns: 'clock, note , number' }), song([conductor(), cues()]));
    expect(only.text('-times.csv')).toBe('number,note,clock\r\n1,60,0:00.000\r\n2,61,0:01.750\r\n');
  });

  it('a decimal comma parts its columns by semicolons', () => {
    const rows = written(
      lists({ decimal: 'comma', columns: 'ms,length ms,part' }),
      song([conductor(100), cues()]),
    ).text('-times.csv');
    expect(rows.split('\r\n')[2]).toBe('2100;301,25;Lamps, port');
  });

  it('thousandths are told as far as there are any', () => {
    // At PPQ 96 and 125 BPM a tick is 5 ms; a seventh of a quarter is none of them.
    const track = new Track('T');
    for (const tick of [1, 2, 3, 7]) track.note(1, tick, 1, 60 + tick, 90);
    const at = (ppq: number, bpm: number) =>
      written(lists({ columns: 'ms' }), song([conductor(bpm), track], { ppq }))
        .rows('-times.csv')
        .map((r) => r[0]);
    expect(at(96, 125)).toEqual(['5', '10', '15', '35']);
    expect(at(480, 120)).toEqual(['1.042', '2.083', '3.125', '7.292']);
    expect(at(96, 97)).toEqual(['6.443', '12.887', '19.33', '45.103']);
  });

  it('the marker in force goes along, from its own tick on', () => {
    const marked = conductor().marker(0, 'Ebb').marker(1680, 'Slack').marker(1680, 'Flood');
    const rows = written(lists({ columns: 'note,marker' }), song([marked, cues()]));
    expect(rows.rows('-times.csv')).toEqual([
      ['60', 'Ebb'],
      ['61', 'Flood'],
    ]);
  });

  it.each(['=1', '+1', '-1', '@x', '\tx'])('%j is no formula in a spreadsheet', (text) => {
    const line = written(lists({ columns: 'marker' }), song([conductor().marker(0, text), cues()]));
    expect(line.text('-times.csv').split('\r\n')[1]).toBe(`"'${text}"`);
  });

  it('captions go with the notes that turn to them', () => {
    const board = builtIn('song-board');
    const track = new Track('Board').note(12, 480, 240, 48, 90).note(12, 1920, 240, 48, 90);
    const rows = written(board, song([conductor(), track]), [
      { step: 'captions', params: { from: 'list', lines: ['Low water', 'the lamps'] } },
    ]);
    expect(rows.rows('-times.csv').map((r) => r.at(-1))).toEqual(['Low water', 'the lamps']);
  });

  it('bars follow meters, also of PPQ 25 in 7/8', () => {
    const track = new Track('T').note(1, 0, 5, 60, 9).note(1, 88, 5, 61, 9).note(1, 100, 5, 62, 9);
    const rows = written(
      lists({ columns: 'place' }),
      song([conductor(120, 7, 8), track], { ppq: 25 }),
    );
    // A beat is 12.5 ticks, a bar 87.5.
    expect(rows.rows('-times.csv').flat()).toEqual(['1.1+0', '2.1+0', '2.2+0']);
  });

  it('what is left out is not listed', () => {
    const two = song([conductor(), cues(), new Track('Out').note(2, 0, 9, 70, 9)]);
    const parts = [two.score.parts.at(-1)!.ref];
    const rows = written(lists({ columns: 'note' }), two, [
      { step: 'leave-out', params: {}, scope: { parts } },
    ]);
    expect(rows.rows('-times.csv').flat()).toEqual(['60', '61']);
  });
});
