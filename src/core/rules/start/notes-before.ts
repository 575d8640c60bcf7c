import { firstTickOf, isIn } from '../../score/score';

export function notesBefore({ score }: { score: Parameters<typeof firstTickOf>[0] }, tick: number) {
  const ids: number[] = [];
  for (const part of score.parts) {
    if (!isIn(part)) continue;
    const { notes } = part;
    for (let i = 0; i < notes.count && notes.start[i]! < tick; i++) ids.push(notes.id[i]!);
  }
  return Uint32Array.from(ids);
}
