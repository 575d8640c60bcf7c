import { chainFormat, type Chain } from '../../formats/chain';
import type { FormatDefinition } from '../../formats/define-format';
import type { Target } from '../../target/schema';
import { count } from '../../target/words';
import { waveUs } from '../companion';
import { keeps, type DeviceNote } from '../device';
import { hearLink } from '../link';
import { loadJson } from '../strict-json';
import { Gathering, utf8, type DeliveredFile, type Played } from '../played';
import { deviceNotes, loadSmf, playThrough } from '../smf-device';

/** Voltage voices: loads patterns and plays their chain, pattern by pattern. */
export function voices(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const chains = files.filter((f) => f.path.endsWith('.chain.json'));
  if (chains.length !== 1) {
    const says = chains.length === 0 ? 'There is no chain.' : 'There are several chains.';
    out.refuse(chains[1]?.path ?? '', 'folder', says, 'outputs');
    return out.played;
  }
  const [file] = chains;
  const chain = loadJson(chainFormat as FormatDefinition<Chain>, file!, out);
  if (!chain) return out.played;
  check(chain, file!.path, target, out);
  const loaded = patterns(chain, file!.path, files, target, out);
  if (target.outputs.some((o) => o.writer === 'sound-link')) link(files, file!, chain, out);
  if (out.refused.length === 0) play(chain, file!.path, loaded, target, out);
  return out.played;
}

function check(chain: Chain, path: string, target: Target, out: Gathering) {
  const { chains, seats } = target;
  if (!keeps(chains)) return;
  const no = (at: string, says: string) => out.refuse(path, at, says, 'chains');
  const { mostLinks, mostRepeats, shiftLowest, shiftHighest } = chains!;
  const letters = chain.patterns.map((p) => p.pattern);
  const there = seats.filter((s) => s.kind === 'voice').length;
  letters.forEach((letter, i) => {
    if (!chains!.patterns.includes(letter))
      no(`patterns[${i}].pattern`, `It has no pattern ${letter}.`);
    if (letters.indexOf(letter) !== i) no(`patterns[${i}].pattern`, 'It is there already.');
  });
  if (chain.links.length > mostLinks) no('links', `It holds ${count(mostLinks, 'link')}.`);
  chain.links.forEach((link, i) => {
    const at = `links[${i}]`;
    if (!letters.includes(link.pattern))
      no(`${at}.pattern`, `There is no pattern ${link.pattern}.`);
    if (link.repeats > mostRepeats) no(`${at}.repeats`, `It repeats ${mostRepeats} times.`);
    if (link.shift < shiftLowest || link.shift > shiftHighest)
      no(`${at}.shift`, `It shifts by ${shiftLowest} to ${shiftHighest}.`);
    if (link.voices.some((v, k) => v > there || (k > 0 && v <= link.voices[k - 1]!)))
      no(`${at}.voices`, `Its voices are 1 to ${there}, in order.`);
  });
}

interface Pattern {
  readonly us: number;
  readonly file: string;
  readonly notes: readonly DeviceNote[];
}

function patterns(
  chain: Chain,
  path: string,
  files: readonly DeliveredFile[],
  target: Target,
  out: Gathering,
): Map<string, Pattern> {
  const loaded = new Map<string, Pattern>();
  const named = new Set<string>();
  chain.patterns.forEach((pattern, i) => {
    const at = `patterns[${i}]`;
    const midi = files.find((f) => f.path === pattern.file);
    if (!midi) return out.refuse(path, `${at}.file`, `There is no ${pattern.file}.`);
    if (named.has(midi.path)) out.refuse(path, `${at}.file`, 'Another pattern has this file.');
    named.add(midi.path);
    const smf = loadSmf(midi, target, out);
    if (!smf) return;
    const tempo = smf.tempos.filter((t) => t.tick === 0).at(-1)?.microsecondsPerQuarter ?? 500_000;
    const us = Math.round(smf.us(smf.endTick));
    if (
      smf.ppq !== pattern.ppq ||
      tempo !== pattern.microsecondsPerQuarter ||
      us !== pattern.lengthUs
    )
      out.refuse(path, at, `${pattern.file} has other ticks, tempo or length.`);
    const meter = smf.meters.filter((m) => m.tick === 0).at(-1) ?? { numerator: 4, denominator: 4 };
    const bars = (smf.endTick * meter.denominator) / (meter.numerator * 4 * smf.ppq);
    if (Math.abs(Math.ceil(bars - 1e-9) - pattern.bars) > 0 && smf.meters.length < 2)
      out.refuse(path, `${at}.bars`, `${pattern.file} has ${bars.toFixed(2)} bars.`);
    const device = deviceNotes(smf, midi.path, target, out);
    playThrough(device, smf, midi.path);
    loaded.set(pattern.pattern, { us, file: midi.path, notes: device.notes });
  });
  for (const f of files)
    if (f.path.endsWith('.mid') && !named.has(f.path))
      out.refuse(f.path, 'name', 'No pattern of the chain has this file.', 'chains');
  return loaded;
}

function play(
  chain: Chain,
  path: string,
  loaded: ReadonlyMap<string, Pattern>,
  target: Target,
  out: Gathering,
) {
  const seats = target.seats.filter((s) => s.kind === 'voice').map((s) => s.id);
  const { lowest = 0, highest = 127 } = target.notes ?? {};
  const beyond = { low: Math.max(0, lowest), high: Math.min(127, highest) };
  let from = 0;
  for (const { pattern, repeats, shift, voices: on } of chain.links) {
    const { us, notes, file } = loaded.get(pattern)!;
    for (let n = 0; n < repeats; n++) {
      out.events.push({
        atUs: from,
        lengthUs: us,
        kind: 'pattern',
        seat: 'chain',
        key: shift,
        text: pattern,
        value: on.join(' '),
        file: path,
      });
      for (const note of notes) {
        const voice = seats.indexOf(note.seat) + 1;
        if (!on.includes(voice)) continue;
        const key = note.key + shift;
        const atUs = from + Math.round(note.atUs);
        if (key < beyond.low || key > beyond.high) {
          const because = 'its shift brings it out of reach';
          const at = { atUs, seat: note.seat, key, file, because, block: 'chains' };
          out.dropped.push({ ...at, how: 'silent', writtenUs: note.writtenUs });
          continue;
        }
        out.events.push({
          atUs,
          lengthUs: Math.max(0, Math.round(note.endUs) - Math.round(note.atUs)),
          kind: 'note',
          seat: note.seat,
          key,
          value: note.velocity,
          ...(note.release === 64 ? {} : { text: `let go at ${note.release}` }),
          file,
        });
      }
      from += us;
    }
  }
  out.lengthUs = from;
}

/** What the sound says has to be what the files say, byte for byte. */
function link(
  files: readonly DeliveredFile[],
  chainFile: DeliveredFile,
  chain: Chain,
  out: Gathering,
) {
  const sounds = files.filter((f) => f.path.endsWith('-link.wav'));
  if (sounds.length !== 1) {
    out.refuse(sounds[1]?.path ?? '', 'folder', 'One sound link is needed.', 'outputs');
    return;
  }
  const [wav] = sounds;
  const length = waveUs(wav!.bytes);
  if ('says' in length) return out.refuse(wav!.path, length.at, length.says);
  const view = new DataView(wav!.bytes.buffer, wav!.bytes.byteOffset, wav!.bytes.byteLength);
  const rate = view.getUint32(24, true);
  if (view.getUint16(22, true) !== 1 || view.getUint16(34, true) !== 16)
    return out.refuse(wav!.path, 22, 'It is one channel of 16 bit.');
  const samples = new Float32Array((wav!.bytes.length - 44) >> 1);
  let sum = 0;
  for (let i = 0; i < samples.length; i++) {
    const value = view.getInt16(44 + i * 2, true);
    samples[i] = value;
    sum = (Math.imul(sum, 31) + value) | 0;
  }
  out.shows.push(`${wav!.path} ${rate} ${sum >>> 0}`);
  const heard = hearLink(samples, rate);
  if (heard.problem !== null) return out.refuse(wav!.path, 'sound', heard.problem);
  const wanted = [chainFile.path, ...chain.patterns.map((p) => p.file)];
  if (heard.patterns !== chain.patterns.length || heard.files.length !== wanted.length)
    return out.refuse(wav!.path, 'sound', 'It holds other files than the folder.');
  heard.files.forEach((f, i) => {
    const path = utf8(Uint8Array.from(f.path, (c) => c.charCodeAt(0)));
    const there = files.find((o) => o.path === wanted[i]);
    const same =
      path === wanted[i] &&
      there?.bytes.length === f.bytes.length &&
      f.bytes.every((b, k) => b === there.bytes[k]);
    if (!same) out.refuse(wav!.path, 'sound', `${wanted[i]} is another in the sound.`);
  });
}
