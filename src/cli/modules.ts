import { ModuleChoicesSchema, type ModuleChoices } from '../core/sources/module/choices';
import { mix, tooLongToMix } from '../core/sources/module/mix';
import { doubtsOf, knowModule } from '../core/sources/module/open';
import { writeWave } from '../core/sound/render';
import { sayIssue } from '../core/diagnostic/say-issue';
import { count, noteName, plain } from '../core/target/words';
import { sayClock } from '../core/time/meter-map';
import type { ModuleView, SampleView } from '../core/wire/module-view';
import { complain, print, readInput, sequenceOf, Unusable, writeOutput } from './files';

/** `pitch=notes`, `rowsPerBeat=8`, `3.beat=out`: what is said of a module, and of its samples. */
export function readingOf(said: readonly string[] | undefined): ModuleChoices | undefined {
  if (!said) return undefined;
  const out: Record<string, unknown> = {};
  const samples: Record<string, Record<string, unknown>> = {};
  for (const one of said) {
    const at = one.indexOf('=');
    const [key, text] = [one.slice(0, at), one.slice(at + 1)];
    if (at < 1) throw new Unusable(`--reading ${one}: say it as key=value, such as pitch=notes.`);
    const value =
      text === 'true'
        ? true
        : text === 'false'
          ? false
          : /^-?\d+$/.test(text)
            ? Number(text)
            : text;
    const sample = /^(\d+)\.(\w+)$/.exec(key);
    if (sample) (samples[sample[1]!] ??= {})[sample[2]!] = value;
    else out[key] = value;
  }
  const all = Object.keys(samples).length > 0 ? { ...out, samples } : out;
  const parsed = ModuleChoicesSchema.safeParse(all);
  if (!parsed.success)
    throw new Unusable(
      `--reading: ${parsed.error.issues.map((i) => `${i.path.join('.')}: ${sayIssue(i)}`).join(' ')}`,
    );
  return parsed.data;
}

export const moduleJson = (m: ModuleView) => ({
  ...m,
  samples: m.samples.map(({ wave: _, ...rest }) => rest),
});

export function sayModule(m: ModuleView): void {
  const song = m.songs > 1 ? `; song ${m.song} of ${m.songs}, see --sequence` : '';
  const round = m.roundTo === null ? 'it stops there' : `goes round to order ${m.roundTo}`;
  print(
    `  ${count(m.patterns, 'pattern')}, ${count(m.rows, 'row')} played, ` +
      `${count(m.channels, 'channel')}, ${sayClock(m.seconds * 1000)}; ${round}${song}`,
  );
  print(`  ${m.rowsPerBeat} rows a beat, ${m.beatsPerBar} beats a bar (${m.beatsReason})`);
  for (const s of m.samples) print(`  sample ${String(s.number).padStart(2)}  ${saySample(s)}`);
  for (const l of m.lost) print(`  not in a score: ${l.count} ${l.what}`);
}

function saySample(s: SampleView): string {
  const keys =
    s.keys.length === 0
      ? ''
      : s.keys.length === 1
        ? ` on ${noteName(s.keys[0]!.key)}`
        : ` on ${noteName(s.keys[0]!.key)}–${noteName(s.keys.at(-1)!.key)}`;
  const bars = s.firstBar === null ? '' : `, bars ${s.firstBar}–${s.lastBar}`;
  const beat = s.beat
    ? `; ${s.beat.hits} hits at ${plain(Math.round(s.beat.bpm * 10) / 10)} BPM`
    : '';
  return (
    `${s.name || '(no name)'}: ${s.role} (${s.reason}); ${s.seconds.toFixed(2)} s` +
    `${s.loops ? ', goes round' : ''}; ${count(s.strikes, 'strike')}${keys}${bars}` +
    `${s.pitch ? `; ${s.pitch.says}` : ''}${beat}`
  );
}

/** A module as its own samples sound it, as a WAV of 16 bits. */
export function renderModule(
  file: string,
  options: {
    out: string;
    rate: string;
    between: string;
    softened: string;
    sample?: string;
    sequence?: string;
    force?: boolean;
  },
): 0 | 2 {
  const bytes = readInput(file);
  const known = knowModule(bytes, { song: sequenceOf(options) });
  if (!known)
    throw new Unusable(`${file}: This is no module of the four formats that can be read.`);
  const rate = Number(options.rate);
  if (rate !== 44_100 && rate !== 48_000)
    throw new Unusable(`--rate ${options.rate}: 44100 or 48000.`);
  const { between } = options;
  if (between !== 'cubic' && between !== 'linear')
    throw new Unusable(`--between ${between}: cubic or linear.`);
  const softened = Number(options.softened);
  if (!(softened >= 0 && softened <= 1))
    throw new Unusable(`--softened ${options.softened}: a share from 0 to 1.`);
  const only = options.sample === undefined ? undefined : Number(options.sample);
  if (only !== undefined && !known.module.samples[only])
    throw new Unusable(
      `--sample ${options.sample}: there are samples 1 to ${known.module.samples.length - 1}.`,
    );
  const problem = tooLongToMix(known, rate);
  if (problem !== null) throw new Unusable(`${file}: ${problem}`);
  for (const d of doubtsOf(known)) complain(`${file}: ${d.place}: ${d.says}`);
  const made = mix(known, {
    rate,
    between,
    softened,
    ...(only === undefined ? {} : { only }),
  });
  const { bytes: wave } = writeWave(made, 16);
  writeOutput(options.out, wave, options.force ?? false);
  return 0;
}
