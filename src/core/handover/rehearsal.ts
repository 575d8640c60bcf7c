import type { Finding } from '../rules/finding';
import type { OutputFile } from '../outputs/define-writer';
import { findRule } from '../rules/index';
import type { Rendition } from '../score/piece';
import { rehearse, standInOf } from '../standin/index';
import type { Complaint, Dropped, Happening, Played } from '../standin/played';
import type { Target } from '../target/schema';
import { count, wordsOf } from '../target/words';
import { type Meant, meantOf } from './meant';
import { type Difference, KIND_WORDS, differenceOf, idsByPlace, resolutionUs } from './difference';

/** What the device did with one file. */
export interface RehearsedFile {
  readonly path: string;
  readonly loaded: boolean;
  /** `62 cues`, `24 captions`: what it plays of it. */
  readonly plays: string;
  readonly complaints: readonly { readonly at: string; readonly says: string }[];
}

/** Notes that the device lost for one reason. */
export interface LostNotes {
  readonly because: string;
  readonly how: Dropped['how'];
  readonly notes: number;
  readonly firstUs: number;
  /** Open findings that said so, by key. */
  readonly findings: readonly string[];
}

export interface Rehearsal {
  /** The device that stood in; null where a target has none. */
  readonly standIn: string | null;
  readonly lengthUs: number;
  readonly files: readonly RehearsedFile[];
  readonly asMeant: boolean;
  readonly lost: readonly LostNotes[];
  /** What no open finding explains: writer and stand-in disagree. */
  readonly unexplained: readonly string[];
}

/** The block of the target that a finding speaks of. */
const blockOf = ({ rule }: Finding): string | null =>
  rule === 'note-range' ? 'notes' : (findRule(rule)?.block ?? null);

/** Stops that leave a file with nothing in it. */
const NOTHING = new Set(['no-notes', 'file-empty', 'carrier-missing', 'frames', 'wait-long']);

/** Runs the device of a target on delivered bytes, and holds it against what was meant. */
export function rehearsalOf(
  files: readonly OutputFile[],
  rendition: Rendition,
  target: Target,
  findings: readonly Finding[],
): Rehearsal {
  const standIn = standInOf(target);
  if (!standIn)
    return { standIn: null, lengthUs: 0, files: [], asMeant: false, lost: [], unexplained: [] };
  const played = rehearse(files, target);
  const meant = meantOf(rendition, target);
  const pieces = new Map(files.map((f) => [f.path, f.holds]));
  const within = standIn.id === 'own-player' ? 1 + resolutionUs(target) : 1;
  const difference = differenceOf(meant, played, (f) => pieces.get(f), within);
  const lost = lostOf(played.dropped, meantOf(rendition, target, true), findings, pieces, target);
  const stops = findings.filter((f) => f.severity === 'stop');
  // What has no seat is not judged by the other rules: whatever becomes of it, its finding said so.
  const unseated = stops.some((f) => f.code === 'unseated');
  const empty = stops.some((f) => NOTHING.has(f.code));
  const explains = (block: string | null) =>
    unseated ||
    (block === null && empty) ||
    stops.some((f) => blockOf(f) === block) ||
    // Limits of its own look at what the others left: with a note gone, its neighbours meet. So do
    // chords, whose trigger may be among what is gone.
    ((block === 'limits' || (block === 'grid' && target.grid?.triggerLowest !== undefined)) &&
      stops.some((f) => f.notes.length > 0));
  const unexplained = [
    ...played.refused
      .filter((c) => !explains(c.block))
      .map((c) => `${c.file || standIn.name}, ${c.at}: ${c.says}`),
    ...played.dropped.filter((d) => !explains(d.block)).map(sayDropped),
  ];
  const asMeant =
    played.refused.length + played.dropped.length === 0 &&
    difference.missing.length + difference.extra.length === 0;
  if (!asMeant) {
    const { missing, extra } = beyondFindings(difference, {
      played,
      rendition,
      findings,
      pieces,
      target,
      unseated,
    });
    if (missing + extra > 0)
      unexplained.push(
        `${count(missing, 'note')} ${missing === 1 ? 'is' : 'are'} not played as meant, ` +
          `${extra.toLocaleString('en-GB')} ${extra === 1 ? 'was' : 'were'} not meant.`,
      );
  }
  return {
    standIn: standIn.name,
    lengthUs: played.lengthUs,
    files: files.map((f) => fileOf(f.path, played, target)),
    asMeant,
    lost,
    unexplained: [...new Set(unexplained)].slice(0, 20),
  };
}

/** Blocks whose stops leave every note where it is, whatever becomes of the file. */
const HARMLESS = new Set([
  'text',
  'naming',
  'metadata',
  'clock',
  'events',
  'end',
  'captions',
  'carrier',
  'velocity',
]);

interface Known {
  readonly played: Played;
  readonly rendition: Rendition;
  readonly findings: readonly Finding[];
  readonly pieces: ReadonlyMap<string, number | undefined>;
  readonly target: Target;
  readonly unseated: boolean;
}

/**
 * Of what is not played as it is meant, what nothing speaks of: neither a loss of the device, nor a
 * refusal of the file, nor a finding that names the note or a limit of the whole.
 */
function beyondFindings(
  { missing, extra }: Pick<Difference, 'missing' | 'extra'>,
  { played, rendition, findings, pieces, target, unseated }: Known,
): { missing: number; extra: number } {
  const open = findings.filter((f) => f.severity !== 'remark');
  const ofAll = (f: Finding) =>
    f.severity === 'stop' && f.notes.length === 0 && !HARMLESS.has(blockOf(f) ?? '');
  if (open.some(ofAll)) return { missing: 0, extra: 0 };
  const spoken = new Set<number>();
  for (const f of open) for (const id of f.notes) spoken.add(id);
  const idOf = idsByPlace(meantOf(rendition, target, true), pieces, target);
  for (const d of played.dropped) for (const id of idOf(d)) spoken.add(id);
  if (unseated)
    for (const { score } of rendition.pieces)
      for (const { seat, notes } of score.parts)
        if (seat === null) for (const id of notes.id) spoken.add(id);
  // What is refused is not played, and its refusal is told by itself.
  const refused = new Set(played.refused.map((c) => pieces.get(c.file)));
  // A chain is played as one, or not at all.
  const asOne = target.chains !== undefined && refused.size > 0;
  const isRefused = (piece: number | undefined) =>
    asOne || refused.has(piece) || refused.has(undefined);
  const gone = missing.filter((m) => !isRefused(m.piece));
  const said = gone.filter((m) => spoken.has(m.id)).length;
  // What a finding names may be played elsewhere: as much as is missing is not of nobody's making.
  const here = extra.filter((e) => !isRefused(pieces.get(e.file))).length;
  return { missing: gone.length - said, extra: Math.max(0, here - said) };
}

const sayDropped = (d: Dropped) =>
  `${d.file}, at ${Math.round(d.atUs / 1000)} ms, key ${d.key}: ${d.because}.`;

function fileOf(path: string, played: Played, target: Target): RehearsedFile {
  const complaints = played.refused
    .filter((c: Complaint) => c.file === path)
    .map(({ at, says }) => ({ at, says }));
  const kinds = new Map<Happening['kind'], number>();
  for (const e of played.events)
    if (e.file === path) kinds.set(e.kind, (kinds.get(e.kind) ?? 0) + 1);
  const words = wordsOf(target);
  const plays = [...kinds]
    .map(([kind, n]) =>
      kind === 'note' || kind === 'strike' || kind === 'cue'
        ? count(n, words.note, words.notes)
        : count(n, KIND_WORDS[kind]),
    )
    .join(', ');
  return { path, loaded: complaints.length === 0, plays, complaints };
}

/** By reason; each with the findings that named the same notes. */
function lostOf(
  dropped: readonly Dropped[],
  meant: readonly Meant[],
  findings: readonly Finding[],
  pieces: ReadonlyMap<string, number | undefined>,
  target: Target,
): LostNotes[] {
  const idOf = idsByPlace(meant, pieces, target);
  const named = new Map<number, string[]>();
  for (const f of findings)
    for (const id of f.notes) {
      const there = named.get(id);
      if (there) there.push(f.key);
      else named.set(id, [f.key]);
    }
  const groups = new Map<
    string,
    { -readonly [K in keyof LostNotes]: LostNotes[K] } & { keys: Set<string> }
  >();
  for (const d of dropped) {
    const key = `${d.because} ${d.how}`;
    const group = groups.get(key) ?? {
      because: d.because,
      how: d.how,
      notes: 0,
      firstUs: d.atUs,
      findings: [],
      keys: new Set<string>(),
    };
    groups.set(key, group);
    group.notes++;
    group.firstUs = Math.min(group.firstUs, d.atUs);
    const said = idOf(d).flatMap((id) => named.get(id) ?? []);
    const ofBlock = findings.filter((f) => said.includes(f.key) && blockOf(f) === d.block);
    for (const f of ofBlock) group.keys.add(f.key);
    if (said.length === 0)
      for (const f of findings)
        if (f.notes.length === 0 && blockOf(f) === d.block) group.keys.add(f.key);
  }
  return [...groups.values()].map(({ keys, ...group }) => ({ ...group, findings: [...keys] }));
}
