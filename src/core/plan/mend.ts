import type { Checkpoint } from '../diagnostic/checkpoint';
import { SEVERITIES, type Finding, type Mend, type Severity } from '../rules/finding';
import { PHASES, type Phase } from '../rules/define-rule';
import { findRule } from '../rules/index';
import { proof } from '../rules/proof';
import type { Rendition } from '../score/piece';
import { isIn } from '../score/score';
import type { HeardSound } from '../sound/beside';
import type { Base } from '../sources/merge';
import type { StepCall } from '../steps/call';
import { heardEvents, heardIn } from '../target/heard';
import { route } from '../steps/routing';
import type { Target } from '../target/schema';
import { byMusic, promisedBy } from './promise';
import { isJudgedBehind, judgedBehind, Trials, type MendTrial } from './trial';

/**
 * How far mending many may go: only what loses nothing; what keeps every note, moved or an octave
 * off where it must; or everything, dropping what cannot stay.
 */
export const MEND_REACHES = ['lossless', 'keep', 'drop'] as const;
export type MendReach = (typeof MEND_REACHES)[number];

export interface MendManyInput {
  readonly rendition: Rendition;
  readonly target: Target;
  readonly base: Base;
  readonly reach: MendReach;
  /**
   * The share of all notes that are there that may be gone in the end, whoever is chosen to play, where
   * dropping is allowed; any where not said.
   */
  readonly mayDrop?: number;
  /** Takes the first candidate of each choice; else a choice stays open. */
  readonly accept?: boolean;
  /** Length of the sound that plays beside it, where it is known. */
  readonly recordingMs?: number;
  readonly soundName?: string;
  readonly heard?: HeardSound;
  /** Findings that are left as is are not mended. */
  readonly leftAsIs?: readonly { readonly key: string }[];
  readonly checkpoint?: Checkpoint;
}

export interface Applied {
  readonly finding: string;
  readonly title: string;
  readonly steps: readonly StepCall[];
  readonly lossless: boolean;
  readonly shiftMs: number;
  readonly notesDropped: number;
  readonly says: string;
}

export interface MendManyResult {
  readonly rendition: Rendition;
  readonly applied: readonly Applied[];
  /** What is left. */
  readonly findings: readonly Finding[];
  /** Findings that wait for somebody to choose. */
  readonly choices: readonly Finding[];
  /** Why none of its candidates was taken, by key, where they were to be. */
  readonly notTaken: ReadonlyMap<string, string>;
  /** Choices of which the likeliest candidate was taken. */
  readonly chosen: number;
  /** Stops that were not there before, and that no mend of a stop revealed: a fault of a mend. */
  readonly newStops: number;
}

/** A bound that no song has reached: every round must leave fewer stops or fewer cautions behind. */
const MOST_ROUNDS = 24;

/** Stops before cautions, phase by phase; what is too large is looked at when nothing more is added. */
const LAST: Phase = 'size';
const ORDER: readonly (readonly [Severity, readonly Phase[]])[] = [
  ...SEVERITIES.map((s) => [s, PHASES.filter((p) => p !== LAST)] as const),
  ...SEVERITIES.map((s) => [s, [LAST]] as const),
];

const SEATING_PHASES: ReadonlySet<Phase> = new Set(['integrity', 'seating']);
const phaseOf = (f: Finding): Phase => findRule(f.rule)!.phase;

/**
 * What is still wrong, in the order in which it counts. Before parts are seated only their seats
 * count: what has no seat yet is not judged by its other rules.
 */
interface Weight {
  readonly stops: number;
  readonly cautions: number;
  readonly remarks: number;
  /** Notes and places that stops name. */
  readonly named: number;
}

function weigh(findings: readonly Finding[], phase: Phase): Weight {
  const early = SEATING_PHASES.has(phase);
  let stops = 0;
  let cautions = 0;
  let remarks = 0;
  let named = 0;
  for (const f of findings) {
    if (early && !SEATING_PHASES.has(phaseOf(f))) continue;
    if (f.severity === 'caution') cautions++;
    if (f.severity === 'remark') remarks++;
    if (f.severity !== 'stop') continue;
    stops++;
    named += f.notes.length + f.spans.length;
  }
  return { stops, cautions, remarks, named };
}

/** Whether a mend did what it is for: fewer stops, or of one fewer places; a caution never for a stop. */
function better(before: Weight, after: Weight, of: Finding): boolean {
  if (after.stops !== before.stops) return after.stops < before.stops;
  if (of.severity === 'stop') return after.named < before.named;
  if (after.cautions !== before.cautions) return after.cautions < before.cautions;
  return of.severity === 'remark' && after.remarks < before.remarks;
}

/** What a mend of a finding would cost; the rendition is not kept, many may be waiting. */
interface Candidate {
  readonly finding: Finding;
  readonly mend: Mend;
  readonly cost: number;
}

/**
 * Mends phase by phase, stops before cautions, the cheapest mend first. A mend is kept only if what
 * is wrong falls by it, which is found by holding the result against the rules: so nothing is fought
 * over, and it ends.
 */
export function mendMany(input: MendManyInput): MendManyResult {
  const { target, base, reach, accept = false } = input;
  const checkpoint = input.checkpoint ?? (() => {});
  const left = new Set(input.leftAsIs?.map((l) => l.key));
  const trials = new Trials(base, target, checkpoint);
  const { recordingMs, soundName, heard } = input;
  const sound = {
    ...(recordingMs === undefined ? {} : { recordingMs }),
    ...(soundName === undefined ? {} : { soundName }),
    ...(heard ? { heard } : {}),
  };
  const judge = (rendition: Rendition) =>
    proof({ rendition, target, base, checkpoint, ...sound }).filter((f) => !left.has(f.key));
  const applied: Applied[] = [];
  /** Mends that were tried on this state and did not help. */
  const vain = new Set<string>();
  const useOf = (f: Finding, m: Mend) => `${f.key}\n${m.title}`;

  /** Whether a mend may be taken at all, whatever it does for the rules. */
  // What a plan left out was decided; of all else that is there a share may go.
  const most =
    trials.fromSource(input.rendition).dropped + (input.mayDrop ?? 1) * notesIn(input.rendition);
  const within = (trial: MendTrial, of: Rendition): boolean => {
    if (input.mayDrop === undefined || trial.notesDropped === 0) return true;
    const gone = trials.fromSource(trial.rendition).dropped;
    return gone <= most || gone <= trials.fromSource(of).dropped;
  };
  const allowed = (finding: Finding, trial: MendTrial, of: Rendition): boolean => {
    if (trial.refused !== null) return false;
    // What is probably wrong, or worth knowing, is mended only where nothing is lost by it.
    if (reach === 'lossless' || finding.severity !== 'stop') return trial.lossless;
    // Who plays is seated, and who does not is listed: no note of a seat is dropped by that.
    const dropped = phaseOf(finding) === 'seating' ? trial.droppedOfSeats : trial.notesDropped;
    if (dropped > 0 && reach !== 'drop') return false;
    return within(trial, of);
  };
  const candidates = (finding: Finding, rendition: Rendition): Candidate[] => {
    if (finding.choice !== undefined && (!accept || reach === 'lossless')) return [];
    const out: Candidate[] = [];
    const judged = isJudgedBehind(finding);
    const ways = choosesWho(finding)
      ? byMusic(finding.mends, (mend) => {
          const { refused, rendition: then } = trials.try(rendition, mend);
          return refused === null ? promisedBy(then, target, base) : null;
        })
      : finding.mends;
    for (const [rank, mend] of ways.entries()) {
      if (mend.byHand || vain.has(useOf(finding, mend))) continue;
      const tried = trials.try(rendition, mend);
      if (!allowed(finding, tried, rendition)) continue;
      const trial = judged ? judgedBehind(tried, findings, judge(tried.rendition)) : tried;
      if (trial.notesDropped > 0 && empties(trial.rendition, target)) continue;
      // Candidates of a choice stand in the order of what speaks for them.
      const ranked =
        finding.choice !== undefined || phaseOf(finding) === 'seating' || finding.ranked;
      const cost = ranked ? rank : trial.cost;
      out.push({ finding, mend, cost });
      if (cost === 0) break;
    }
    return out.sort((a, b) => a.cost - b.cost);
  };

  let rendition = input.rendition;
  let findings = judge(rendition);
  let newStops = 0;
  let chosen = 0;
  /** Findings that were mended: they do not come back for another one. */
  const settled = new Set<string>();
  /**
   * A stop gave way to what it hid: captions that were not there, and now are too long; where nothing is
   * lost by it also to several of its own kind: a loop that was not there, and now is no whole bars and
   * has a seam.
   */
  const revealed = (
    of: Finding,
    was: Weight,
    is: Weight,
    after: readonly Finding[],
    lossless: boolean,
  ): boolean => {
    if (of.severity !== 'stop') return false;
    if (after.some((f) => f.key === of.key || (f.severity === 'stop' && settled.has(f.key))))
      return false;
    if (is.stops <= was.stops) return true;
    const known = new Set(findings.map((f) => f.key));
    const { block } = findRule(of.rule)!;
    return (
      lossless &&
      after.every(
        (f) => f.severity !== 'stop' || known.has(f.key) || findRule(f.rule)!.block === block,
      )
    );
  };
  /**
   * What one line got wrong several get wrong now, each a finding of its own, and this is not among
   * it: a chord that is spread over voices, each of which is still too long.
   */
  const spreadOut = (of: Finding, after: readonly Finding[]): boolean => {
    if (of.severity !== 'stop') return false;
    const known = stopKinds(findings);
    known.delete(`${of.rule}/${of.code}`);
    return [...stopKinds(after)].every((kind) => known.has(kind));
  };
  /**
   * A way that keeps every note is not given up for one that drops some because it brings other stops
   * to light: what these would cost is held against it.
   */
  const worthIt = (
    of: Finding,
    trial: MendTrial,
    after: readonly Finding[],
    ways: readonly Candidate[],
  ): boolean => {
    if (of.severity !== 'stop' || trial.notesDropped > 0) return false;
    const gone = ways
      .map(({ mend }) => trials.try(rendition, mend).notesDropped)
      .filter((n) => n > 0);
    if (gone.length === 0) return false;
    const known = new Set(findings.map((f) => f.key));
    let costs = 0;
    for (const f of after) {
      if (f.key === of.key || (f.severity === 'stop' && settled.has(f.key))) return false;
      if (f.severity !== 'stop' || known.has(f.key)) continue;
      costs += Math.min(
        Infinity,
        ...f.mends.map((mend) => {
          const { refused, notesDropped } = trials.try(trial.rendition, mend);
          return refused === null ? notesDropped : Infinity;
        }),
      );
    }
    return costs < Math.min(...gone);
  };
  /** Tries the ways of one finding until one helps. */
  const mendOne = (finding: Finding, phase: Phase): boolean => {
    // The likeliest come first; those behind them are looked for when none of them has helped.
    for (let ways = candidates(finding, rendition); ways.length > 0;) {
      if (helpedBy(ways, finding, phase)) return true;
      ways = candidates(finding, rendition);
    }
    return false;
  };
  const helpedBy = (ways: readonly Candidate[], finding: Finding, phase: Phase): boolean => {
    for (const { mend } of ways) {
      const trial = trials.try(rendition, mend);
      if (trial.refused !== null || samePieces(trial.rendition, rendition)) {
        vain.add(useOf(finding, mend));
        continue;
      }
      const after = judge(trial.rendition);
      const before = weigh(findings, phase);
      const weight = weigh(after, phase);
      const helps =
        better(before, weight, finding) || revealed(finding, before, weight, after, trial.lossless);
      const further = !helps && (spreadOut(finding, after) || worthIt(finding, trial, after, ways));
      if (!helps && !further) {
        vain.add(useOf(finding, mend));
        continue;
      }
      if (!SEATING_PHASES.has(phase) && !further)
        newStops += Math.max(0, weight.stops - before.stops);
      rendition = trial.rendition;
      findings = after;
      vain.clear();
      if (finding.choice !== undefined) chosen++;
      settled.add(finding.key);
      applied.push(appliedOf(finding, mend, trial));
      return true;
    }
    return false;
  };

  /**
   * The best way of each finding of a phase, all in one: where that leaves less behind it is kept, and
   * one proof was enough. Else, and for what remains, the findings are taken one by one.
   */
  const mendAtOnce = (severity: Severity, phase: Phase): boolean => {
    const here = findings.filter((f) => f.severity === severity && phaseOf(f) === phase);
    if (here.length < 2) return false;
    const best = here.flatMap((f) => candidates(f, rendition).slice(0, 1));
    best.sort((a, b) => a.cost - b.cost);
    const taken = new Set<number>();
    const asked = new Set<string>();
    const sat = new Set<string>();
    const done: Applied[] = [];
    let next = rendition;
    for (const { finding, mend } of best) {
      if (finding.notes.some((id) => taken.has(id))) continue;
      // What one finding asks of everything is done once, for whichever asked first.
      const first = JSON.stringify(mend.steps[0]);
      if (asked.has(first)) continue;
      // Of two that would take the same idle seats the second is asked again when the first sits.
      const seats = SEATING_PHASES.has(phase) ? [] : seatsTaken(mend.steps);
      if (seats.some((s) => sat.has(s))) continue;
      // What was tried alone may do otherwise behind the mends that went before it.
      const trial = trials.try(next, mend);
      if (!allowed(finding, trial, next) || samePieces(trial.rendition, next)) continue;
      if (trial.notesDropped > 0 && empties(trial.rendition, target)) continue;
      next = trial.rendition;
      asked.add(first);
      for (const s of seats) sat.add(s);
      done.push(appliedOf(finding, mend, trial));
      if (!trial.lossless) for (const id of finding.notes) taken.add(id);
    }
    if (done.length < 2) return false;
    const after = judge(next);
    const before = weigh(findings, phase);
    const weight = weigh(after, phase);
    const falls =
      severity === 'stop'
        ? weight.stops <= before.stops - Math.ceil(done.length / 2)
        : better(before, weight, here[0]!);
    if (!falls) return false;
    rendition = next;
    findings = after;
    applied.push(...done);
    return true;
  };

  for (let round = 0; round < MOST_ROUNDS; round++) {
    let progress = false;
    for (const [severity, phases] of ORDER)
      for (const [i, phase] of phases.entries()) {
        checkpoint(round * PHASES.length + i, MOST_ROUNDS * PHASES.length);
        while (mendAtOnce(severity, phase)) progress = true;
        const asked = new Set<string>();
        for (;;) {
          const next = findings.find(
            (f) => f.severity === severity && phaseOf(f) === phase && !asked.has(f.key),
          );
          if (!next) break;
          asked.add(next.key);
          if (next.mends.length > 0 && mendOne(next, phase)) progress = true;
        }
      }
    if (!progress) break;
  }
  const choices = findings.filter((f) => f.choice !== undefined && f.severity === 'stop');
  const whyNot = (finding: Finding): string => {
    const why = finding.mends.map((m): string => {
      const trial = trials.try(rendition, m);
      if (trial.refused !== null) return trial.refused;
      if (trial.notesDropped > 0 && empties(trial.rendition, target))
        return 'it would leave nothing';
      if (!allowed(finding, trial, rendition)) return trial.costs;
      return 'as many stops stay behind it';
    });
    return [...new Set(why)].slice(0, 3).join('; ') || 'it has no candidate';
  };
  const notTaken = new Map(
    accept && reach !== 'lossless' ? choices.map((f) => [f.key, whyNot(f)]) : [],
  );
  return { rendition, applied, findings, choices, notTaken, chosen, newStops };
}

/** What stops there are, whatever line, note or place they name. */
const stopKinds = (findings: readonly Finding[]) =>
  new Set(findings.flatMap((f) => (f.severity === 'stop' ? [`${f.rule}/${f.code}`] : [])));

/** Seats that steps give to parts. */
const seatsTaken = (steps: Mend['steps']): string[] =>
  steps.flatMap(({ step, params }) =>
    step === route.id ? [(params as { seat: string }).seat] : [],
  );

/** Who plays, and with what: the music that is kept decides. */
const choosesWho = (f: Finding): boolean =>
  f.code === 'unseated' && f.mends.length > 1 && f.mends.length <= MOST_WAYS;
/** Ways that are tried for their music before one is taken. */
const MOST_WAYS = 12;

/** Nothing that the target hears would be delivered; of one that takes no notes they do not count. */
const empties = ({ pieces }: Rendition, target: Target): boolean =>
  pieces.every(({ score }) =>
    score.parts.every((p) => {
      if (!isIn(p)) return true;
      if (!target.notes?.none) return heardIn(p, target) === 0;
      const { presets, values } = heardEvents(p, target);
      return presets + values === 0;
    }),
  );

const notesIn = ({ pieces }: Rendition): number =>
  pieces.reduce(
    (n, { score }) => n + score.parts.reduce((m, p) => m + (p.leftOut ? 0 : p.notes.count), 0),
    0,
  );

const samePieces = (a: Rendition, b: Rendition) =>
  a.pieces.length === b.pieces.length && a.pieces.every((p, i) => p === b.pieces[i]);

const appliedOf = (finding: Finding, mend: Mend, trial: MendTrial): Applied => ({
  finding: finding.key,
  title: mend.title,
  steps: mend.steps,
  lossless: trial.lossless,
  shiftMs: trial.shiftMs,
  notesDropped: trial.notesDropped,
  says: trial.says,
});
