import type { Target } from '../../target/schema';
import { count } from '../../target/words';
import { keeps } from '../device';
import { Gathering, utf8, type DeliveredFile, type Played } from '../played';
import { deviceNotes, loadSmf, playThrough } from '../smf-device';
import { checkTimes } from './cue-player';
import { sound } from './sequencer';

export interface Shown {
  readonly fromMs: number;
  readonly lines: readonly string[];
}

/** A prompter: turns one caption at each advance, and shows what fits on its board. */
export function prompter(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const midi = files.filter((f) => f.path.endsWith('.mid'));
  if (midi.length === 0) out.refuse('', 'folder', 'There is no MIDI file.', 'outputs');
  for (const file of midi) {
    const smf = loadSmf(file, target, out);
    if (!smf) continue;
    const device = deviceNotes(smf, file.path, target, out);
    playThrough(device, smf, file.path);
    const path = file.path.replace(/\.mid$/, '.vtt');
    const vtt = files.find((f) => f.path === path);
    if (!vtt) {
      out.refuse(path, 'folder', 'The captions are missing.', 'outputs');
      continue;
    }
    const captions = readCaptions(vtt, out);
    if (!captions) continue;
    const rows = checkTimes(files, file, smf, target, out);
    sound(device, out, 'cue');
    const { captions: board } = target;
    const advances = device.notes.filter((n) => n.key === board?.noteNumber);
    if (keeps(board) && advances.length !== captions.length)
      out.refuse(
        path,
        'last line',
        `There are ${count(captions.length, 'caption')} and ${count(advances.length, 'advance')}.`,
        'captions',
      );
    const rowsOfAdvances = rows?.filter((r) => r.note === board?.noteNumber);
    captions.forEach((c, i) => {
      const advance = advances[i];
      if (!advance) return;
      const listed = rowsOfAdvances?.[i]?.caption;
      if (listed !== undefined && listed !== c.lines.join(' / ') && !listed.startsWith("'"))
        out.refuse(path, `caption ${i + 1}`, 'The list of times has another caption.');
      out.events.push({
        atUs: Math.round(advance.atUs),
        kind: 'caption',
        seat: advance.seat,
        key: i + 1,
        value: c.fromMs,
        text: c.lines.join('\n'),
        file: path,
      });
      if (!keeps(board)) return;
      const amiss = (because: string) =>
        device.drop({ ...advance, file: path, key: i + 1 }, because, 'captions', 'altered');
      const { mostLines, longestLine, leadLeastMs = 0, leadMostMs = Infinity } = board!;
      if (c.lines.length > mostLines || c.lines.some((l) => [...l].length > longestLine))
        amiss('it does not fit on the board');
      const lead = c.fromMs - advance.writtenUs / 1000;
      // Captions are told in whole milliseconds.
      if (lead < leadLeastMs - 0.51 || lead > leadMostMs + 0.51)
        amiss(`it is turned ${Math.round(lead)} ms before its word`);
    });
  }
  return out.played;
}

const STAMP = /^(\d{2,}):([0-5]\d):([0-5]\d)\.(\d{3})$/;
const msOf = (stamp: string): number | null => {
  const [, h, m, s, ms] = STAMP.exec(stamp) ?? [];
  return h === undefined
    ? null
    : ((Number(h) * 60 + Number(m)) * 60 + Number(s)) * 1000 + Number(ms);
};

/** WebVTT of plain cues: numbered, in order, none over another. */
export function readCaptions(file: DeliveredFile, out: Gathering): Shown[] | null {
  const refusals = out.refused.length;
  const no = (line: number, says: string) => out.refuse(file.path, `line ${line}`, says);
  const text = utf8(file.bytes);
  if (text === null) {
    no(1, 'The bytes are not UTF-8.');
    return null;
  }
  const lines = text.split('\n');
  if (lines[0] !== 'WEBVTT') no(1, 'It does not begin with WEBVTT.');
  if (lines.pop() !== '') no(lines.length, 'The last line has no end.');
  const list: Shown[] = [];
  let until = -1;
  for (let at = 1; at < lines.length && out.refused.length === refusals;) {
    if (lines[at] !== '') {
      no(at + 1, 'An empty line parts the captions.');
      break;
    }
    if (lines[at + 1] !== String(list.length + 1))
      no(at + 2, `Caption ${list.length + 1} is numbered.`);
    const [from, arrow, to, ...more] = (lines[at + 2] ?? '').split(' ');
    const fromMs = msOf(from ?? '');
    const toMs = msOf(to ?? '');
    if (fromMs === null || toMs === null || arrow !== '-->' || more.length > 0)
      no(at + 3, 'A time line is needed: from --> to.');
    else {
      if (fromMs >= toMs) no(at + 3, 'It ends before it begins.');
      if (fromMs < until) no(at + 3, 'It begins while the last caption is shown.');
      until = toMs;
    }
    let end = at + 3;
    const shown: string[] = [];
    while (end < lines.length && lines[end] !== '') shown.push(lines[end++]!);
    if (shown.length === 0) no(at + 4, 'The caption has no words.');
    const bad = shown.findIndex((l) => /<|>|&(?!amp;|lt;|gt;)|\r/.test(l));
    if (bad >= 0) no(at + 4 + bad, 'A letter stands there that has to be escaped.');
    const plain = (l: string) =>
      l.replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&');
    if (fromMs !== null) list.push({ fromMs, lines: shown.map(plain) });
    out.shows.push(`${file.path} ${from} ${to}`);
    at = end;
  }
  return out.refused.length > refusals ? null : list;
}
