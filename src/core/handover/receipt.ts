import { figuresOf } from '../compare/figures';
import { inThousandths, type Figures } from '../compare/say-figures';
import { compareCurves, sayCurveDifference } from '../compare/curves';
import { hearingOf, hearsCurves } from '../target/hearing';
import type { Comparison } from '../compare/by-id';
import type { ReadBack } from '../compare/read-back';
import type { Damage } from '../diagnostic/damage';
import { sayDamage } from '../diagnostic/damage';
import type { Finding } from '../rules/finding';
import type { Rehearsal } from './rehearsal';
import type { FileCounts, Ledger, LedgerRow } from './ledger';
import type { LeftAsIs, Plan } from '../plan/plan';
import type { Piece, Rendition } from '../score/piece';
import { soundMs } from '../sound/beside';
import type { CompanionSound } from '../outputs/define-writer';
import type { Base } from '../sources/merge';
import type { StepOutcome } from '../plan/run';
import { sayStep } from '../steps/words';
import { mapsOf, roundMs } from '../score/inventory';
import { isIn } from '../score/score';
import { sayFinding } from '../rules/say';
import { tallyOf, type Tally } from '../rules/proof';
import type { Loss } from '../steps/define-step';
import type { Target } from '../target/schema';
import { plain } from '../target/words';

/** What went in, what changed, what was lost. No date: the same work gives the same receipt. */
export interface TriedInReceipt {
  /** Bar and beat in what is delivered. */
  readonly where: string;
  readonly says: string;
  /** The handover it was heard of; null before the first. */
  readonly handover: number | null;
  readonly done: boolean;
}

export interface Receipt {
  readonly receiptVersion: 1;
  readonly job: string;
  readonly handover: number | null;
  readonly sources: readonly {
    readonly name: string;
    readonly sha256: string;
    /** How it takes part, in words. */
    readonly use: string;
    readonly damage: readonly string[];
  }[];
  /** The recording that plays beside it, as it came and as it goes out; null where there is none. */
  readonly recording: {
    readonly name: string;
    readonly lengthMs: number;
    readonly rate: number | null;
    readonly channels: number | null;
    /** Changes that the plan makes to it, and how long it is after them. */
    readonly changes: number;
    readonly deliveredMs: number;
  } | null;
  /** What was heard at the stand-in or at the device, each with its place. */
  readonly heard: readonly TriedInReceipt[];
  /** What could not be brought together exactly. */
  readonly remarks: readonly string[];
  readonly target: { readonly id: string; readonly version: string; readonly name: string };
  readonly plan: readonly {
    readonly says: string;
    readonly on: boolean;
    readonly effect: string | null;
    readonly refused: string | null;
    /** Files that did not take it, while others did. */
    readonly passedOver: readonly string[];
  }[];
  readonly commonShiftMs: number;
  readonly carried: {
    readonly parts: readonly {
      readonly name: string;
      readonly channel: number;
      readonly seat: string | null;
      readonly notes: number;
    }[];
    readonly notes: number;
    readonly markers: number;
  };
  /** How much of what a listener follows is there, in shares; null where it cannot be. */
  readonly music: Figures;
  readonly leftOut: {
    readonly parts: readonly { readonly name: string; readonly notes: number }[];
    readonly losses: readonly Loss[];
  };
  /** By kind of fact: what came, what the files hold as they were read back, what is in none. */
  readonly ledger: readonly LedgerRow[];
  readonly changed: Omit<Comparison, 'commonShiftMs' | 'shiftsMs'>;
  /** Of what listens to presets and curves: each that is otherwise than in the source, in words. */
  readonly curves?: readonly string[];
  readonly findingsBefore: Tally;
  readonly findingsAfter: Tally;
  readonly openFindings: readonly {
    readonly severity: string;
    readonly where: string;
    readonly says: string;
  }[];
  readonly leftAsIs: readonly { readonly says: string; readonly reason: string }[];
  readonly files: readonly {
    readonly path: string;
    readonly bytes: number;
    readonly sha256: string;
    readonly readBack: 'same' | 'differs' | 'not read';
    readonly differences: readonly string[];
    /** How many of each kind of fact its bytes hold. */
    readonly holds: FileCounts;
    /** How far its notes stand from the source; null where it holds none by itself. */
    readonly shiftMs: number | null;
    /** What the device plays of it: `62 cues`; and what it says where it would not load it. */
    readonly plays: string;
    readonly complaints: readonly string[];
  }[];
  /** What a stand-in for the device did with these bytes. */
  readonly rehearsed: {
    readonly standIn: string | null;
    readonly asMeant: boolean;
    readonly lengthMs: number;
    readonly lost: readonly {
      readonly notes: number;
      readonly because: string;
      readonly altered: boolean;
      /** What had said so before; by the key of its finding. */
      readonly findings: readonly { readonly key: string; readonly says: string }[];
    }[];
    readonly unexplained: readonly string[];
  };
  readonly checklist: readonly string[];
}

export interface ReceiptInput {
  readonly job: string;
  readonly handover: number | null;
  readonly base: Base;
  readonly target: Target;
  readonly plan: Plan;
  readonly outcomes: readonly StepOutcome[];
  readonly rendition: Rendition;
  readonly comparison: Comparison;
  readonly before: readonly Finding[];
  readonly after: readonly Finding[];
  readonly leftAsIs: readonly LeftAsIs[];
  readonly losses: readonly Loss[];
  readonly files: readonly {
    path: string;
    bytes: number;
    sha256: string;
    readBack: ReadBack | null;
    /** Index of the piece that it was made of. */
    holds: number | undefined;
  }[];
  readonly ledger: Ledger;
  readonly rehearsal: Rehearsal;
  readonly sound?: CompanionSound | null;
  readonly tried?: readonly TriedInReceipt[];
}

/** How a source takes part, in words. */
export function sayUse(use: {
  as: 'together' | 'file';
  follows: 'bars' | 'clock';
  offset: number;
  rules: boolean;
  alone: boolean;
}): string {
  if (use.as === 'file') return 'a file of its own';
  if (use.alone) return 'the whole score';
  if (use.rules) return 'rules tempo and meter';
  const by = use.follows === 'bars' ? 'by bars' : 'by the clock';
  const offset =
    use.offset === 0
      ? ''
      : use.follows === 'bars'
        ? `, ${use.offset} ticks later`
        : `, ${plain(use.offset / 1000)} ms later`;
  return `follows ${by}${offset}`;
}

/** Losses of the same kind are one line. */
export function gatherLosses(losses: readonly Loss[]): Loss[] {
  const sums = new Map<string, number>();
  for (const { what, count } of losses) sums.set(what, (sums.get(what) ?? 0) + count);
  return [...sums].map(([what, count]) => ({ what, count }));
}

const heardOf = (path: string, { files }: Rehearsal) => {
  const heard = files.find((f) => f.path === path);
  return {
    plays: heard?.plays ?? '',
    complaints: heard?.complaints.map((c) => `${c.at}: ${c.says}`) ?? [],
  };
};

function rehearsedOf(
  { standIn, asMeant, lengthUs, lost, unexplained }: Rehearsal,
  findings: readonly Finding[],
  say: (f: Finding) => { says: string },
): Receipt['rehearsed'] {
  return {
    standIn,
    asMeant,
    lengthMs: lengthUs / 1000,
    lost: lost.map(({ notes, because, how, findings: keys }) => ({
      notes,
      because,
      altered: how === 'altered',
      findings: findings
        .filter((f) => keys.includes(f.key))
        .map((f) => ({ key: f.key, says: say(f).says })),
    })),
    unexplained,
  };
}

function recordingOf(sound: CompanionSound | null, piece: Piece | undefined): Receipt['recording'] {
  if (!sound) return null;
  const lengthMs = sound.lengthUs / 1000;
  return {
    name: sound.name,
    lengthMs: roundMs(lengthMs),
    rate: sound.samples?.rate ?? null,
    channels: sound.samples?.channels.length ?? null,
    changes: piece?.sound?.length ?? 0,
    deliveredMs: roundMs(piece ? soundMs(piece, lengthMs) : lengthMs),
  };
}

/** The delivered channels held against what came on them. */
function curvesChanged({ base, target, rendition, comparison }: ReceiptInput): string[] {
  const hearing = hearingOf(target);
  if (!hearing.curves) return [];
  return rendition.pieces.flatMap((piece, i) => {
    const came = base.rendition.pieces[i] ?? base.rendition.pieces[0]!;
    const shift = comparison.notesAfter > 0 ? (comparison.shiftsMs[i] ?? 0) : null;
    const channels = new Set(piece.score.parts.filter(isIn).map((p) => p.channel));
    return compareCurves(came, piece, hearing, shift)
      .filter((d) => channels.has(d.channel))
      .map(sayCurveDifference);
  });
}

export function makeReceipt(input: ReceiptInput): Receipt {
  const { base, target, plan, outcomes, rendition, comparison, after, leftAsIs } = input;
  const { pieces } = rendition;
  const listens = hearsCurves(target);
  const maps = pieces.map((p) => mapsOf(p.score));
  const baseMaps = base.rendition.pieces[0] ? mapsOf(base.rendition.pieces[0].score) : undefined;
  const accepted = new Map(leftAsIs.map((l) => [l.key, l.reason]));
  const say = (f: Finding) => {
    // Each file has bars and a clock of its own.
    const { wrong, then, where } = sayFinding(f, target, maps[f.piece ?? 0]!);
    const file = f.piece === undefined ? '' : `${pieces[f.piece]!.delivery.fileName}, `;
    return { where: `${file}${where}`, says: `${wrong} ${then}` };
  };
  const parts = pieces.flatMap((p) => p.score.parts);
  const { rows: ledger, files: held } = input.ledger;
  const markers = ledger.find((r) => r.kind === 'markers')?.carried ?? 0;
  const { commonShiftMs, shiftsMs, ...changed } = comparison;
  const behind = base.behind.map((b) => ({ what: `${b.what} of ${b.source}`, count: b.count }));
  const stepLosses = outcomes.flatMap((o) => o.losses);
  return {
    receiptVersion: 1,
    job: input.job,
    handover: input.handover,
    sources: base.uses.map(({ source, as, follows, offset, rules }) => ({
      name: source.name,
      sha256: source.sha256,
      use: sayUse({ as, follows, offset, rules, alone: base.sources.length === 1 }),
      damage: source.damage.map((d: Damage) => sayDamage(d)),
    })),
    recording: recordingOf(input.sound ?? null, pieces[0]),
    remarks: base.remarks,
    target: { id: target.id, version: target.version, name: target.name },
    plan: plan.steps.map((step) => {
      const outcome = outcomes.find((o) => o.key === step.key);
      return {
        says: sayStep(step, baseMaps, target),
        on: step.on,
        effect: outcome?.effect?.says ?? null,
        refused: outcome?.refused ?? null,
        passedOver: outcome?.passedOver.map((p) => `${p.file}: ${p.says}`) ?? [],
      };
    }),
    commonShiftMs: roundMs(commonShiftMs),
    carried: {
      parts: parts
        .filter((p) => isIn(p) && (p.notes.count > 0 || (listens && p.events.count > 0)))
        .map((p) => ({ name: p.name, channel: p.channel, seat: p.seat, notes: p.notes.count })),
      notes: comparison.notesAfter,
      markers,
    },
    music: inThousandths(figuresOf(base.rendition, rendition, target)),
    leftOut: {
      parts: parts
        .filter((p) => p.leftOut && p.notes.count > 0)
        .map((p) => ({ name: p.name, notes: p.notes.count })),
      losses: gatherLosses([...behind, ...stepLosses, ...input.losses]),
    },
    ledger,
    changed: {
      ...changed,
      furthestMs: roundMs(changed.furthestMs),
      furthestEndMs: roundMs(changed.furthestEndMs),
    },
    curves: curvesChanged(input),
    findingsBefore: tallyOf(input.before),
    findingsAfter: tallyOf(after, leftAsIs),
    openFindings: after
      .filter((f) => !accepted.has(f.key))
      .map((f) => ({ severity: f.severity, ...say(f) })),
    leftAsIs: after
      .filter((f) => accepted.has(f.key))
      .map((f) => ({ says: say(f).says, reason: accepted.get(f.key)! })),
    files: input.files.map((f) => ({
      path: f.path,
      bytes: f.bytes,
      sha256: f.sha256,
      readBack: f.readBack === null ? 'not read' : f.readBack.same ? 'same' : 'differs',
      differences: f.readBack?.differences ?? [],
      holds: held.get(f.path) ?? {},
      shiftMs: f.holds === undefined ? null : roundMs(shiftsMs[f.holds] ?? 0),
      ...heardOf(f.path, input.rehearsal),
    })),
    heard: input.tried ?? [],
    rehearsed: rehearsedOf(input.rehearsal, after, say),
    checklist: target.checklist,
  };
}
