import {
  type OpenRequest,
  type OpenReply,
  type SourceRef,
  type RunRequest,
  type MendTrialView,
  type RunView,
  type HandoverRequest,
} from './run-protocol';
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
import type { Which } from '../core/sources/which';
import type { ModuleView, ModuleWay } from '../core/wire/module-view';
import type { Figures } from '../core/compare/say-figures';
import type { Thinned } from '../core/steps/curves/thinned';
import type { Division } from '../core/smf/file';
import type { TempoEvent } from '../core/time/tempo-map';
import type { Answered } from '../core/learning/probes';
import type { FileBeside } from '../core/handover/file-beside';
import type { FileLines } from '../core/handover/file-lines';
import type { MendReach } from '../core/plan/mend';
import type { Receipt } from '../core/handover/receipt';
import type { SongFacts } from '../core/sets/song-facts';
import type { Rehearsal } from '../core/handover/rehearsal';
import type { Fit } from '../core/plan/fit';
import type { Plan } from '../core/plan/plan';
import type { RowRate } from '../core/plan/row-rates';
import type { NoteAddress } from '../core/score/address';
import type { Reach } from '../core/steps/call';
import type { StepCall } from '../core/steps/call';
import type { Named } from '../core/steps/define-step';
import type { Samples } from '../core/sound/samples';
import type { SeamCandidate } from '../core/reading/seams';
import type { Tally } from '../core/rules/proof';
import type { Played } from '../core/standin/played';
import type { Learnt } from '../core/learning/learn';
import type { Target } from '../core/target/schema';
import type { Schedule } from '../core/wire/view';
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
export type * from './run-protocol';

export type { CardSongReply, SongReply, SongRequest } from './set-protocol';

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

/** More places of one finding are not shown; a hundred thousand of them take long to cross. */
export const MOST_SPANS = 2000;

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
  /** Parts that are not left out yet and would be, and their notes. */
  readonly out: { readonly parts: number; readonly notes: number };
  readonly figures: Figures;
  /** Choices that stay open, and those of which the likeliest candidate was taken. */
  readonly open: number;
  readonly chosen: number;
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

export interface ThinRequest {
  readonly tick: Int32Array;
  readonly value: Uint16Array;
  /** How far a value may stand from the curve. */
  readonly within: number;
  readonly perSecond?: number;
  readonly division: Division;
  readonly tempos: readonly TempoEvent[];
}

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
    request: RunRequest & { readonly path: string; readonly beside?: Uint8Array },
    progress: Progress,
  ): Promise<Answer<{ file: FileLines; beside: FileBeside | null } | null>>;
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
  /** A curve as it would be thinned: of a dense one that takes longer than a screen may wait. */
  thin(call: Call, request: ThinRequest, progress: Progress): Promise<Answer<Thinned>>;
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
  /** What is known of a song of a set. */
  songFacts(call: Call, request: SongRequest, progress: Progress): Promise<Answer<SongFacts>>;
  /** A song of a set as it goes out: its files and its receipt, and what is known of it. */
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
  checkStep(
    step: StepCall,
    named?: Named,
  ): { says: string; problem: null } | { says: null; problem: string };
  readRecipe(text: string): { recipe: unknown; problem: null } | { recipe: null; problem: string };
  /** The next small file to try, or what the answers say; the first is like a file that was taken. */
  probe(
    answers: readonly Answered[],
    like: { readonly name: string; readonly bytes: ArrayBuffer } | null,
  ): ProbeReply;
  /** A target as one file to pass on, with the examples of an earlier one. */
  writePack(target: Target, before: ArrayBuffer | null): Uint8Array;
  /** The receipt of a set as files. */
  setReceipt(receipt: SetReceipt): { path: string; bytes: Uint8Array }[];
  pack(files: { path: string; bytes: Uint8Array }[]): Uint8Array;
  unpack(
    bytes: ArrayBuffer,
  ): { files: { path: string; bytes: Uint8Array }[] } | { problem: string };
}
