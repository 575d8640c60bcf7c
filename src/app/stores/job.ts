import { computed, onScopeDispose, ref } from 'vue';
import { scopeOnBase } from '../../core/steps/scope';
import type { Scope } from '../../core/steps/call';
import type { Target } from '../../core/target/schema';
import type { SourceView } from '../../core/wire/view';
import { makeChanges } from './job/changes';
import { makeDocument } from './job/document';
import { makeFindings } from './job/findings';
import { defineJobPart, useOpenJob } from './job/job-part';
import { makeSession } from './job/session';

export type { LaidPiece } from './job/session';

/** The job that is open: its document, what it comes to, and every way to change it. */
export const useJob = defineJobPart(() => {
  const desk = useOpenJob();
  const doc = makeDocument();
  const session = makeSession(doc);
  /** What was done last, for the live region. */
  const said = ref('');
  const changes = makeChanges(doc, session, (did) => (said.value = did));
  /** Key of the source that Intake shows; the ruling one where nothing was chosen. */
  const lookedAt = ref<string | null>(null);

  const source = computed<SourceView | null>(() => {
    const ruling = session.shown.value?.uses.find((u) => u.rules)?.source ?? '';
    const all = session.sources.value;
    return all.get(lookedAt.value ?? ruling) ?? all.values().next().value ?? null;
  });

  onScopeDispose(() => {
    session.dispose();
    doc.close();
  });

  /** Reads the job that this session is for, and works out what it comes to. */
  async function load(id: string) {
    if (await doc.open(id, () => void session.reopen())) await session.reopen();
  }
  /** Leaves what is open: document, session and views of another begin anew. */
  async function open(id: string) {
    desk.begin(id);
    await useJob().load(id);
  }
  const close = () => desk.begin(null);

  async function chooseTarget(next: Target) {
    // On the screen it is worked out at once; the database answers when it can.
    const saved = doc.chooseTarget(next);
    await session.refresh();
    await saved;
  }

  async function setSound(sound: Parameters<typeof doc.setSound>[0]) {
    const saved = doc.setSound(sound);
    await session.refresh();
    await saved;
  }

  async function repin(next: Target) {
    const saved = doc.repin(next);
    await session.refresh();
    await saved;
  }

  /** Asked after what takes time: whether the job that was open is the open one still. */
  function still(): () => boolean {
    const id = doc.record.value?.id;
    return () => id !== undefined && doc.record.value?.id === id;
  }

  /** A stretch on the ticks of the piece that is shown, as one on those of the base. */
  const onBase = (scope: Scope): Scope =>
    scopeOnBase(scope, session.shown.value?.delivered.fromBase ?? undefined);

  return {
    // The document
    record: doc.record,
    sourcesNow: doc.sourcesNow,
    plan: doc.plan,
    target: doc.target,
    readOnly: doc.readOnly,
    missing: doc.missing,
    saveProblem: doc.saveProblem,
    rename: doc.rename,
    countHandover: doc.countHandover,
    setSound,
    setBank: doc.setBank,
    setTried: doc.setTried,
    chooseTarget,
    repin,
    // The session
    sources: session.sources,
    shown: session.shown,
    trials: session.trials,
    busy: session.busy,
    problem: computed(
      () => session.problem.value ?? session.failure.value ?? doc.readProblem.value,
    ),
    failure: session.failure,
    standing: session.standing,
    giveUp: session.giveUp,
    atRisk: doc.atRisk,
    revision: session.revision,
    idle: session.idle,
    refresh: session.refresh,
    /** What was given up or failed is worked out once more, from the sources on. */
    proofAgain: session.reopen,
    request: session.request,
    working: session.working,
    report: session.report,
    tryOut: session.tryOut,
    peek: session.peek,
    showPiece: session.showPiece,
    hear: session.hear,
    ...makeFindings(doc, session),
    ...changes,
    // The view
    source,
    lookedAt,
    said,
    still,
    onBase,
    open,
    load,
    close,
  };
});
