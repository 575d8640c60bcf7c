import { musicIn } from '../../../core/compare/say-figures';
import { computed } from 'vue';
import { isUnsaid } from '../../../core/target/unsaid';
import type { FindingView } from '../../../worker/run-protocol';
import type { JobDocument } from './document';
import type { JobSession } from './session';

/** The findings of a session with their numbers and what was decided of them. */
export function makeFindings(doc: JobDocument, session: JobSession) {
  const { shown, trials } = session;
  const reasons = computed(
    () => new Map(doc.plan.value?.now.leftAsIs.map((l) => [l.key, l.reason]) ?? []),
  );
  /** In the order of the sheet. None where nothing is judged: before it is said what it is for, or where the proof was given up. */
  const findings = computed(() =>
    (isUnsaid(doc.target.value) || session.standing.value === 'stopped'
      ? []
      : (shown.value?.findings ?? [])
    ).map((finding, i) => ({
      ...finding,
      number: i + 1,
      reason: reasons.value.get(finding.key) ?? null,
    })),
  );
  /** Those of the piece that is on the sheet. */
  const findingsHere = computed(() =>
    findings.value.filter((f) => f.piece === null || f.piece === shown.value?.piece),
  );
  const tally = computed(() => {
    const open = findings.value.filter((f) => f.reason === null);
    const of = (severity: string) => open.filter((f) => f.severity === severity).length;
    return { stops: of('stop'), cautions: of('caution'), remarks: of('remark') };
  });
  /** What somebody has to choose is not among it, however little it costs. */
  const losslessCount = computed(
    () =>
      findings.value.filter(
        (f) =>
          f.reason === null &&
          !f.choice &&
          trials.value[f.key]?.some((t) => t.lossless && !t.refused),
      ).length,
  );
  /** Whether a way of mending many would find something: a stop with a mend, or what loses nothing. */
  const mendsMany = computed(() =>
    findings.value.some(({ reason, severity, key, mends }) => {
      const wanted = (i: number) => {
        const trial = trials.value[key]?.[i];
        return severity === 'stop' || (trial?.lossless === true && !trial.refused);
      };
      return reason === null && mends.some((_, i) => wanted(i));
    }),
  );

  /** The best mend first: one that loses nothing, then one that keeps every note, dropping last. */
  function rankedMends({ key, mends }: Pick<FindingView, 'key' | 'mends'>) {
    const list = mends.map((mend, i) => ({ mend, i }));
    const tried = trials.value[key];
    if (!tried || tried.length < list.length) return list;
    const cost = (i: number) => {
      const { refused, cost, figures } = tried[i]!;
      if (refused) return Number.MAX_VALUE;
      // Who plays is told by the music that is kept; of ways alike the first stays first.
      if (figures) return -Math.round((musicIn(figures) ?? 0) * 100);
      return cost;
    };
    return list.sort((a, b) => cost(a.i) - cost(b.i) || a.i - b.i);
  }

  return { findings, findingsHere, tally, losslessCount, mendsMany, rankedMends };
}
