import type { KnownSong } from '../../core/sets/layout';
import { type SetFinding, proofSet } from '../../core/sets/rules';
import { songsOf } from '../../core/sets/set';
import { sayBytes } from '../../core/sets/write-card';
import type { Target } from '../../core/target/schema';
import { count } from '../../core/target/words';
import { sayClock } from '../../core/time/meter-map';
import { complain, print } from '../files';
import { inPool } from '../pool';
import { type Status, worse } from '../proofing';
import { type MadeSong, songTask } from './deliver';
import { jobOf } from './open-set';
import { type OpenSet } from './opened';

const FEW = 5;

export interface Looked {
  readonly songs: readonly MadeSong[];
  readonly known: ReadonlyMap<string, KnownSong & { readonly target: Target }>;
  readonly findings: readonly SetFinding[];
}

/** Every song as it would go out, made on all cores; and what is wrong with them beside each other. */
export async function lookAt(open: OpenSet): Promise<Looked> {
  const rows = songsOf(open.set);
  const songs: MadeSong[] = [];
  const numbers = rows.map((_, n) => n);
  // Workers take longer to start than a few songs to be made.
  if (rows.length < FEW) for (const n of numbers) songs.push(await songTask(open.path)(n));
  else await inPool<number, MadeSong>('song', open.path, numbers, (song) => songs.push(song));
  const known = new Map<string, KnownSong & { target: Target }>();
  for (const [n, row] of rows.entries()) {
    const { made, title } = songs[n]!;
    const target = jobOf(open, row)?.plans.find((p) => p.targetId === row.target)?.target;
    if (made && target) known.set(row.key, { row, title, facts: made.facts, target });
  }
  const findings = proofSet({ set: open.set, songs: [...known.values()] });
  return { songs, known, findings };
}

export function statusFor({ songs, findings }: Looked): Status {
  let status: Status = findings.some((f) => f.severity === 'stop') ? 1 : 0;
  for (const { made, problem } of songs) {
    if (problem !== null) status = worse(status, 2);
    else if (made && made.unexplained.length > 0) status = worse(status, 3);
    else if (made && made.facts.tally.stops > 0) status = worse(status, 1);
  }
  return status;
}

export function sayLooked(
  open: OpenSet,
  looked: Looked,
  standing: ReadonlyMap<string, string> | null,
) {
  for (const [n, { key, title, made, problem }] of looked.songs.entries()) {
    const number = String(n + 1).padStart(3);
    if (!made) {
      complain(`${number} ${title}: ${problem}`);
      continue;
    }
    const { tally, lengthMs, kept, files } = made.facts;
    const parts = [
      count(tally.stops, 'stop'),
      count(tally.cautions, 'caution'),
      `notes kept ${kept} %`,
      sayClock(lengthMs),
      sayBytes(files.reduce((sum, f) => sum + f.bytes, 0)),
      ...(standing ? [standing.get(key) ?? 'not handed over'] : []),
    ];
    print(`${number} ${title}: ${parts.join(', ')}`);
  }
  for (const f of looked.findings) {
    print(`  ${f.severity.padEnd(8)} ${f.title}. ${f.says}`);
    for (const m of f.mends) print(`     → ${m.title}`);
  }
  const all = looked.songs.flatMap((s) => s.made?.facts ?? []);
  const bytes = all.flatMap((f) => f.files).reduce((sum, f) => sum + f.bytes, 0);
  const clock = all.reduce((ms, f) => ms + f.lengthMs, 0);
  print(`${open.set.title}: ${count(all.length, 'song')}, ${sayClock(clock)}, ${sayBytes(bytes)}`);
}

export const songJson = ({ key, title, problem, made }: MadeSong) => ({
  key,
  title,
  ...(problem === null ? {} : { problem }),
  ...(made ? { ...made.facts } : {}),
});
