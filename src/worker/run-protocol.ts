import type { ModuleChoices } from '../core/sources/module/choices';
import type { MusicView } from '../core/wire/music';
import type { Figures } from '../core/compare/say-figures';
import type { KeptFormats } from '../core/formats/own/kept';
import type { Severity, Span } from '../core/rules/finding';
import type { TriedInReceipt } from '../core/handover/receipt';
import type { LeftAsIs, Plan } from '../core/plan/plan';
import type { StepCall } from '../core/steps/call';
import type { Missing } from '../core/plan/select';
import type { Disagreement } from '../core/sources/disagree';
import type { HeardSound } from '../core/sound/beside';
import type { Samples } from '../core/sound/samples';
import type { Tally } from '../core/rules/proof';
import type { Target } from '../core/target/schema';
import type { PieceWire, SourceView } from '../core/wire/view';

/** What crosses between the screen and the worker: plain data and transferred columns. */

export interface OpenRequest {
  readonly bytes: ArrayBuffer;
  readonly name: string;
  readonly sequence?: number;
  readonly reading?: ModuleChoices;
  /** Formats of targets of somebody's own that the file may be of, tried in this order. */
  readonly own?: readonly KeptFormats[];
}

export type OpenReply =
  | { readonly ok: true; readonly source: SourceView; readonly readBy?: KeptFormats }
  | { readonly ok: false; readonly sha256: string; readonly problems: readonly string[] };

/** A source of a job, by what its bytes are. */
export interface SourceRef {
  readonly key: string;
  readonly sha256: string;
  readonly name: string;
  /** Format 2: which sequence, from 0. */
  readonly sequence?: number;
  /** How a module is read. */
  readonly reading?: ModuleChoices;
}

export interface RunRequest {
  readonly sources: readonly SourceRef[];
  readonly target: Target;
  readonly plan: Plan;
  readonly leftAsIs: readonly LeftAsIs[];
  /** Keys of columns that the screen has. */
  readonly known: readonly number[];
  /** Which of several pieces is looked at, from 0. */
  readonly piece?: number;
  /** Length of the companion sound, where there is one. */
  readonly recordingMs?: number;
  readonly soundName?: string;
  /** What was heard in it, once it was listened to. */
  readonly heard?: HeardSound;
  /** Tells what was heard apart without looking through it. */
  readonly soundSha?: string;
}

export interface StepView {
  readonly key: string;
  readonly says: string;
  readonly effect: string | null;
  readonly refused: string | null;
  /** Files that did not take it, with the reason. */
  readonly passedOver: readonly string[];
  readonly missing: Missing;
}

/** How a source takes part, with everything said. */
export interface UseView {
  readonly source: string;
  readonly name: string;
  readonly as: 'together' | 'file';
  readonly follows: 'bars' | 'clock';
  readonly offset: number;
  readonly rules: boolean;
  readonly says: string;
}

export interface MendView {
  readonly title: string;
  readonly steps: readonly StepCall[];
}

/** What a mend would do; worked out after the findings are on the screen. */
export interface MendTrialView {
  readonly lossless: boolean;
  readonly notesTouched: number;
  readonly notesDropped: number;
  /** By which mends are ranked. */
  readonly cost: number;
  readonly shiftMs: number;
  /** What it costs, in the words of every screen. */
  readonly costs: string;
  /** Of a choice: what a listener follows of the source then. */
  readonly figures?: Figures;
  readonly says: string;
  readonly losses: readonly string[];
  readonly refused: string | null;
}

export interface FindingView {
  readonly key: string;
  readonly rule: string;
  readonly code: string;
  readonly severity: Severity;
  readonly title: string;
  readonly wrong: string;
  readonly then: string;
  readonly where: string;
  readonly part: string | null;
  /** Index of the piece that it concerns; null where there is one, or it is all of them. */
  readonly piece: number | null;
  /** The first of them: where it is shown. How many there are is said by `where`. */
  readonly spans: readonly Span[];
  readonly notes: Uint32Array;
  readonly mends: readonly MendView[];
  /** What is to be chosen: its mends are candidates. */
  readonly choice: string | null;
  readonly noMend: string | null;
}

/** A file of the delivery. */
export interface PieceFile {
  readonly name: string;
  /** The place, pad or pattern that it takes, by its id, where a step or its name says so. */
  readonly place: string | null;
  /** As long as it is delivered; parts of a bar count. */
  readonly bars: number;
  readonly notes: number;
}

export interface RunView {
  /** The files of the delivery, of which one is shown. */
  readonly pieces: readonly PieceFile[];
  readonly piece: number;
  readonly delivered: PieceWire;
  readonly source: PieceWire;
  readonly steps: readonly StepView[];
  readonly findings: readonly FindingView[];
  readonly tally: Tally;
  /** Notes of the parts that play as they came, and those of them that are still there. */
  readonly kept: { readonly seated: number; readonly kept: number };
  /** What a listener follows of it. */
  readonly figures: Figures;
  /** Who has what in the source. */
  readonly music: MusicView;
  /** What waits for somebody to choose. */
  readonly choices: number;
  readonly commonShiftMs: number;
  readonly changes: readonly string[];
  readonly uses: readonly UseView[];
  /** What could not be brought together exactly. */
  readonly remarks: readonly string[];
  /** Where sources contradict each other, what matters most first. */
  readonly disagreements: readonly Disagreement[];
}

export interface HandoverRequest extends Omit<RunRequest, 'known'> {
  readonly job: string;
  readonly handover: number;
  /** What was heard while it was tried. */
  readonly tried?: readonly TriedInReceipt[];
  /** The companion sound, as it was brought in. */
  readonly sound?: {
    readonly name: string;
    readonly bytes: ArrayBuffer;
    /** Decoded already: for what only the browser can decode. */
    readonly samples?: Samples;
  };
}
