import { comparePieces } from '../compare/by-id';
import { readBack } from '../compare/read-back';
import type { Finding } from '../diagnostic/finding';
import type { Checkpoint, LeftAsIs, Plan, SourceScore } from '../plan/model';
import { baseRendition, type PlanRun } from '../plan/run';
import { proof } from '../rules/proof';
import { encodeUtf8 } from '../smf/text';
import type { Target } from '../target/schema';
import { writeOutputs } from './index';
import type { OutputFile } from './define-writer';
import { makeReceipt, type Receipt } from './receipt';
import { receiptPage } from './receipt-page';

export interface HandoverInput {
  readonly job: string;
  readonly handover: number | null;
  readonly source: SourceScore;
  readonly target: Target;
  readonly plan: Plan;
  readonly run: PlanRun;
  readonly findings: readonly Finding[];
  readonly leftAsIs: readonly LeftAsIs[];
  /** Lower-case hex; given by the platform. */
  readonly sha256: (bytes: Uint8Array) => Promise<string>;
  readonly checkpoint?: Checkpoint;
}

export interface Handover {
  readonly files: readonly OutputFile[];
  readonly receipt: Receipt;
}

/** Writes the files of a target, reads them back, compares, and makes the receipt. */
export async function handOver(input: HandoverInput): Promise<Handover> {
  const { source, target, run, checkpoint } = input;
  const stages = 4;
  checkpoint?.(0, stages);
  const { files, losses } = writeOutputs(run.rendition, target);
  checkpoint?.(1, stages);
  const described = [];
  for (const file of files) {
    const piece = file.piece === undefined ? undefined : run.rendition.pieces[file.piece];
    described.push({
      path: file.path,
      bytes: file.bytes.length,
      sha256: await input.sha256(file.bytes),
      readBack: piece ? readBack(piece, file.bytes) : null,
    });
  }
  checkpoint?.(2, stages);
  const comparison = comparePieces(
    source.score,
    run.rendition.pieces.map((p) => p.score),
  );
  const before = proof({ rendition: baseRendition(source, target), target, source });
  checkpoint?.(3, stages);
  const receipt = makeReceipt({
    ...input,
    outcomes: run.outcomes,
    rendition: run.rendition,
    comparison,
    before,
    after: input.findings,
    losses,
    files: described,
  });
  const receipts: OutputFile[] = [
    { path: 'receipt.json', bytes: encodeUtf8(`${JSON.stringify(receipt, null, 2)}\n`) },
    { path: 'receipt.html', bytes: encodeUtf8(receiptPage(receipt)) },
  ];
  return { files: [...files, ...receipts], receipt };
}
