import type { SongBars } from '../core/reading/stretches';
import type { SetReceipt } from '../core/sets/set-receipt';
import type { SongMatch } from '../core/sets/match-songs';
import type {
  CardSongReply,
  CardSongRequest,
  MatchRequest,
  SongReply,
  SongRequest,
} from './set-protocol';
import type { ModuleChoices } from '../core/sources/module/choices';
import type { Which } from '../core/sources/which';
import type { MusicView } from '../core/wire/music';
import type { ModuleView, ModuleWay } from '../core/wire/module-view';
import type { Figures } from '../core/compare/say-figures';
import type { KeptFormats } from '../core/formats/own/kept';
import type { Answered } from '../core/learning/probes';
import type { FileLines } from '../core/handover/file-lines';
import type { MendReach } from '../core/plan/mend';
import type { Severity, Span } from '../core/rules/finding';
import type { Receipt, TriedInReceipt } from '../core/handover/receipt';
import type { Rehearsal } from '../core/handover/rehearsal';
import type { Fit } from '../core/plan/fit';
import type { LeftAsIs, Plan } from '../core/plan/plan';
import type { RowRate } from '../core/plan/row-rates';
import type { NoteAddress } from '../core/score/address';
import type { Reach } from '../core/steps/call';
import type { StepCall } from '../core/steps/call';
import type { Missing } from '../core/plan/select';
import type { Disagreement } from '../core/sources/disagree';
import type { Heard } from '../core/sound/beside';
import type { Samples } from '../core/sound/samples';
import type { SeamCandidate } from '../core/reading/seams';
import type { Tally } from '../core/rules/proof';
import type { Played } from '../core/standin/played';
import type { Learnt } from '../core/learning/learn';
import type { Target } from '../core/target/schema';
import type { PieceWire, Schedule, SourceView } from '../core/wire/view';
import type {
  DescribeReply,
  DescribeRequest,
  PackReply,
  ProbeReply,
  SeparateReply,
  SeparateRequest,
} from './learning-protocol';
import type {
  LineUpReply,
  LineUpRequest,
  ListenReply,
  ListenRequest,
  LoudnessRequest,
  MadeSound,
  MakeSoundRequest,
  ModuleWaveReply,
  ModuleWaveRequest,
  ReceiveReply,
  ReceiveRequest,
  SampleSoundRequest,
} from './sound-protocol';

export type * from './learning-protocol';
export type * from './sound-protocol';

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

export type { CardSongReply, SongReply, SongRequest } from './set-protocol';

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
  readonly heard?: Heard;
  /** Tells what was heard apart without looking through it. */
  readonly soundSha?: string;
}

export interface FitRequest {
  readonly sources: readonly SourceRef[];
  readonly target: Target;
  readonly plan: Plan;
}

export interface AddressRequest {
  readonly sources: readonly SourceRef[];
  readonly plan: Plan;
  /** Ids of notes of the base. */
  readonly origins: readonly number[];
}

export interface LearnRequest {
  readonly sources: readonly SourceRef[];
  readonly name: string;
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

/** More places of one finding are not shown; a hundred thousand of them take long to cross. */
export const MOST_SPANS = 2000;

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

export interface MendAllReply {
  readonly applied: readonly {
    readonly title: string;
    readonly lossless: boolean;
    readonly says: string;
    readonly steps: readonly StepCall[];
  }[];
  readonly remaining: Tally;
  /** Notes of the parts that play then, and how many of them are kept. */
  readonly seated: number;
  readonly kept: number;
  readonly figures: Figures;
  /** Choices that stay open, and those of which the likeliest candidate was taken. */
  readonly open: number;
  readonly chosen: number;
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

export interface HandoverReply {
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[];
  readonly pack: Uint8Array;
  readonly receipt: Receipt;
  /** Writers that the target names and that there are not. */
  readonly unwritten: readonly string[];
  /** What the target’s device does with these bytes. */
  readonly rehearsal: Rehearsal;
}

/** What the target’s device does with the bytes that would be handed over now. */
export interface RehearseReply {
  readonly played: Played;
  /** Files that are a piece, by its index. */
  readonly holds: readonly { readonly file: string; readonly piece: number }[];
  readonly rehearsal: Rehearsal;
}

export interface StepForm {
  readonly id: string;
  readonly title: string;
  readonly summary: string;
  readonly reach: Reach;
  /** JSON Schema of its parameters. */
  readonly params: unknown;
}

/** What the engine can do, for pages that list it. */
export interface Catalogue {
  readonly rules: readonly {
    readonly id: string;
    readonly summary: string;
    readonly block: keyof Target | null;
    readonly reads: readonly string[] | null;
  }[];
  readonly writers: readonly { readonly id: string; readonly summary: string }[];
}

export type DriftReply =
  | {
      readonly ok: true;
      /** Notes that both have, by clock time of what is delivered. */
      readonly ms: Float64Array;
      /** The other less the delivery, without what all share; milliseconds. */
      readonly off: Float64Array;
      readonly shiftMs: number;
      readonly says: readonly string[];
    }
  | { readonly ok: false; readonly problems: readonly string[] };

export type Progress = (done: number, total: number) => void;

export interface Call {
  readonly id: number;
}

/** Answers that stand for an expected failure cross as values. */
export type Answer<T> =
  | { readonly is: 'done'; readonly value: T }
  | { readonly is: 'cancelled' }
  | ({ readonly is: 'unknown-source'; readonly sha256: string } & Which);

export interface Engine {
  /**
   * A call is given up when the slot `id % length` of `cancel` holds its id. `epoch` tells workers
   * that follow each other apart: none gives a key of columns that another one gave.
   */
  init(cancel: SharedArrayBuffer | null, epoch: number): void;
  open(call: Call, request: OpenRequest, progress: Progress): Promise<Answer<OpenReply>>;
  forget(sha256: string): void;
  run(call: Call, request: RunRequest, progress: Progress): Promise<Answer<RunView>>;
  tryMends(
    call: Call,
    request: RunRequest,
    progress: Progress,
  ): Promise<Answer<Record<string, MendTrialView[]>>>;
  mendAll(
    call: Call,
    request: RunRequest & { readonly reach: MendReach; readonly accept?: boolean },
    progress: Progress,
  ): Promise<Answer<MendAllReply>>;
  /** What each reach of mending would come to; nothing is kept of it. */
  reaches(
    call: Call,
    request: RunRequest & { readonly accept: boolean },
    progress: Progress,
  ): Promise<Answer<Record<MendReach, MendAllReply>>>;
  schedule(
    call: Call,
    request: RunRequest & {
      readonly which: 'source' | 'delivered';
      /** What is left out sounds too: the music beside what listens to no notes. */
      readonly withMusic?: boolean;
    },
    progress: Progress,
  ): Promise<Answer<Schedule>>;
  handOver(
    call: Call,
    request: HandoverRequest,
    progress: Progress,
  ): Promise<Answer<HandoverReply>>;
  fit(call: Call, request: FitRequest, progress: Progress): Promise<Answer<Fit>>;
  addresses(
    call: Call,
    request: AddressRequest,
    progress: Progress,
  ): Promise<Answer<NoteAddress[]>>;
  listen(call: Call, request: ListenRequest, progress: Progress): Promise<Answer<ListenReply>>;
  lineUp(call: Call, request: LineUpRequest, progress: Progress): Promise<Answer<LineUpReply>>;
  rehearse(call: Call, request: RunRequest, progress: Progress): Promise<Answer<RehearseReply>>;
  /** A file as it would be handed over now, line by line, with the notes that it is of. */
  fileLines(
    call: Call,
    request: RunRequest & { readonly path: string },
    progress: Progress,
  ): Promise<Answer<FileLines | null>>;
  receive(call: Call, request: ReceiveRequest, progress: Progress): Promise<Answer<ReceiveReply>>;
  makeSound(call: Call, request: MakeSoundRequest, progress: Progress): Promise<Answer<MadeSound>>;
  /** Where what is delivered may go round, the best first. */
  seams(
    call: Call,
    request: RunRequest & {
      readonly fromBars: readonly number[];
      readonly loudness?: Float32Array;
    },
    progress: Progress,
  ): Promise<Answer<readonly SeamCandidate[]>>;
  /** The bars of each file that the plan comes to, and what somebody would take from them. */
  songBars(
    call: Call,
    request: FitRequest,
    progress: Progress,
  ): Promise<Answer<readonly SongBars[]>>;
  /** What each row rate of the target would do to what is delivered. */
  rowRates(
    call: Call,
    request: RunRequest,
    progress: Progress,
  ): Promise<Answer<readonly RowRate[]>>;
  /** How loud one part is over a stretch; null where the bank is not known yet and has to be sent. */
  loudness(
    call: Call,
    request: LoudnessRequest,
    progress: Progress,
  ): Promise<Answer<number | null>>;
  /** How far what is delivered and another file stand apart, note by note. */
  driftFrom(
    call: Call,
    request: RunRequest & { readonly other: OpenRequest },
    progress: Progress,
  ): Promise<Answer<DriftReply>>;
  /** What is in a module as it is read now. */
  moduleInfo(call: Call, source: SourceRef, progress: Progress): Promise<Answer<ModuleView>>;
  /** What each way to read it would give. */
  moduleWays(
    call: Call,
    source: SourceRef,
    progress: Progress,
  ): Promise<Answer<readonly ModuleWay[]>>;
  /** One sample of a module, struck at a key. */
  moduleSound(
    call: Call,
    request: SampleSoundRequest,
    progress: Progress,
  ): Promise<Answer<Samples>>;
  /** A module as its own samples sound it, as a WAV of 16 bits. */
  moduleWave(
    call: Call,
    request: ModuleWaveRequest,
    progress: Progress,
  ): Promise<Answer<ModuleWaveReply>>;
  /** A song of a set: its files, and what is known of it. */
  song(call: Call, request: SongRequest, progress: Progress): Promise<Answer<SongReply>>;
  /** What the devices do with songs that lie on a card. */
  cardSongs(
    call: Call,
    songs: readonly CardSongRequest[],
    progress: Progress,
  ): Promise<Answer<readonly CardSongReply[]>>;
  /** Which song of a set each file is a newer export of. */
  matchSongs(
    call: Call,
    request: MatchRequest,
    progress: Progress,
  ): Promise<Answer<readonly SongMatch[]>>;
  /** An example of a file, explained by a score. */
  describe(
    call: Call,
    request: DescribeRequest,
    progress: Progress,
  ): Promise<Answer<DescribeReply>>;
  /** What tells files that were taken from those that were refused. */
  separate(
    call: Call,
    request: SeparateRequest,
    progress: Progress,
  ): Promise<Answer<SeparateReply>>;
  /** A target with its examples, read and held against them. */
  readPack(call: Call, bytes: ArrayBuffer, progress: Progress): Promise<Answer<PackReply>>;
  learn(call: Call, request: LearnRequest, progress: Progress): Promise<Answer<Learnt>>;
  catalogue(): Catalogue;
  stepForms(): StepForm[];
  checkStep(step: StepCall): { says: string; problem: null } | { says: null; problem: string };
  readRecipe(text: string): { recipe: unknown; problem: null } | { recipe: null; problem: string };
  /** The next small file to try, or what the answers say. */
  probe(answers: readonly Answered[]): ProbeReply;
  /** A target as one file to pass on, with the examples of an earlier one. */
  writePack(target: Target, before: ArrayBuffer | null): Uint8Array;
  /** The receipt of a set as files. */
  setReceipt(receipt: SetReceipt): { path: string; bytes: Uint8Array }[];
  pack(files: { path: string; bytes: Uint8Array }[]): Uint8Array;
  unpack(
    bytes: ArrayBuffer,
  ): { files: { path: string; bytes: Uint8Array }[] } | { problem: string };
}
