import type { FormatDefinition } from '../../formats/define-format';
import { strandsFormat, type Strands } from '../../formats/strands';
import { loadJson } from '../strict-json';
import type { Target } from '../../target/schema';
import { companion } from '../companion';
import { keeps } from '../device';
import { Gathering, type DeliveredFile, type Played } from '../played';
import { clockOf } from '../strict-smf';

/** A game engine that listens for strands by name; of two with one name it keeps the last. */
export function ledger(files: readonly DeliveredFile[], target: Target): Played {
  const out = new Gathering();
  const found = files.filter((f) => f.path.endsWith('.strands.json'));
  if (found.length === 0) out.refuse('', 'folder', 'There are no strands.', 'outputs');
  for (const file of found) {
    const data = loadJson(strandsFormat as FormatDefinition<Strands>, file, out);
    if (!data) continue;
    const before = out.refused.length;
    check(data, file.path, target, out);
    if (out.refused.length === before) play(data, file.path, files, target, out);
  }
  return out.played;
}

const NOTE_NAME = /^(C|C♯|D|E♭|E|F|F♯|G|A♭|A|B♭|B)(-1|\d)$/;

function fits(value: string | number | null, kind: string, lengthUs: number, span: boolean) {
  switch (kind) {
    case 'note-name':
      return typeof value === 'string' && NOTE_NAME.test(value);
    case 'note-number':
      return typeof value === 'number' && value <= 127;
    case 'velocity':
      return typeof value === 'number' && value >= 1 && value <= 127;
    case 'length':
      return typeof value === 'number' && (!span || value === lengthUs);
    default:
      return value === null;
  }
}

function check(data: Strands, path: string, { metadata, strands }: Target, out: Gathering) {
  const no = (at: string, says: string, block: string | null = null) =>
    out.refuse(path, at, says, block);
  const clock = clockOf({
    ppq: data.ppq,
    tempos: data.tempos.map((t, order) => ({ ...t, track: 0, order })),
  });
  const timed = (at: string, list: readonly { tick: number; atUs: number }[]) =>
    list.forEach((e, i) => {
      if (i > 0 && e.tick < list[i - 1]!.tick) no(`${at}[${i}].tick`, 'It stands before the last.');
      if (Math.abs(clock(e.tick) - e.atUs) > 1)
        no(`${at}[${i}].atUs`, 'Its tick is at another time.');
    });
  if (data.tempos[0]!.tick !== 0) no('tempos[0].tick', 'The first tempo stands at tick 0.');
  timed('tempos', data.tempos);
  timed('passages', data.passages);
  if (Math.abs(clock(data.endTick) - data.endUs) > 1) no('endUs', 'Its tick is at another time.');
  if (keeps(metadata) && metadata!.required.some((r) => r.key === 'sound') && data.sound === null)
    no('sound', 'It asks for the name of the sound.', 'metadata');
  data.strands.forEach((strand, s) => {
    const at = `strands[${s}]`;
    if (keeps(strands) && !strands!.values.includes(strand.value))
      no(`${at}.value`, `It takes ${strands!.values.join(', ')}.`, 'strands');
    timed(`${at}.cues`, strand.cues);
    strand.cues.forEach((c, i) => {
      const span = strand.kind === 'span';
      const length = clock(c.tick + c.lengthTicks) - clock(c.tick);
      if ((!span && c.lengthTicks + c.lengthUs > 0) || Math.abs(length - c.lengthUs) > 2)
        no(`${at}.cues[${i}].lengthUs`, 'It does not agree with its ticks.');
      if (!fits(c.value, strand.value, c.lengthUs, span))
        no(`${at}.cues[${i}].value`, `It is no value of the kind ${strand.value}.`);
    });
  });
}

function play(
  data: Strands,
  file: string,
  files: readonly DeliveredFile[],
  target: Target,
  out: Gathering,
) {
  out.lengthUs = Math.max(out.lengthUs, data.endUs);
  out.shows.push(
    `${file} ${JSON.stringify({ ...data, strands: data.strands.map((s) => [s.name, s.source, s.kind, s.value]) })}`,
  );
  companion(data.sound, file, files, target, out);
  const heard = new Map(data.strands.map((s) => [s.name, s]));
  const listens = target.strands?.names;
  for (const strand of data.strands) {
    const deaf =
      keeps(target.strands) &&
      (heard.get(strand.name) !== strand ||
        (listens !== undefined && !listens.includes(strand.name)));
    strand.cues.forEach((c, i) => {
      if (deaf)
        out.dropped.push({
          atUs: c.atUs,
          seat: strand.name,
          key: i + 1,
          file,
          because:
            (listens?.includes(strand.name) ?? true)
              ? 'a later strand has its name'
              : 'nobody listens for it',
          block: 'strands',
          how: 'silent',
          writtenUs: c.atUs,
        });
      else
        out.events.push({
          atUs: c.atUs,
          lengthUs: c.lengthUs,
          kind: 'cue-value',
          seat: strand.name,
          key: i + 1,
          value: c.value,
          file,
        });
    });
  }
}
