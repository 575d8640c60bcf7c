import { baseOf } from '../core/plan/base';
import type { Checkpoint } from '../core/diagnostic/checkpoint';
import { handOverSong, knowSong, type SongOrder } from '../core/sets/hand-over-song';
import { fingerprintOf, matchSongs } from '../core/sets/match-songs';
import { rehearse } from '../core/standin/index';
import { companionOf, sha256, type Known } from './known';
import type { Engine, SongRequest } from './protocol';

/** Calls about sets: each song as it goes out, and which file is which song. */
export const setCalls = ({
  answer,
  sourceOf,
}: Pick<Known, 'answer' | 'sourceOf'>): Pick<
  Engine,
  'songFacts' | 'song' | 'matchSongs' | 'cardSongs'
> => {
  const orderOf = async (request: SongRequest, checkpoint: Checkpoint): Promise<SongOrder> => {
    const { sources, plan, job, ...order } = request;
    const base = baseOf(
      sources.map((ref) => sourceOf(ref)),
      plan.uses,
    );
    const sound = await companionOf(request, checkpoint);
    return { ...order, title: job, base, plan, sound, sha256, checkpoint };
  };
  return {
    songFacts: (call, request, progress) =>
      answer(call, progress, async (checkpoint) => knowSong(await orderOf(request, checkpoint))),

    song: (call, request, progress) =>
      answer(call, progress, async (checkpoint) => {
        const done = await handOverSong(await orderOf(request, checkpoint));
        const files = done.music.map(({ path, bytes }) => ({ path, bytes }));
        const { facts, receipt, rehearsal } = done;
        return { facts, receipt, files, unexplained: rehearsal.unexplained };
      }),

    cardSongs: (call, songs, progress) =>
      answer(call, progress, (checkpoint) =>
        songs.map(({ key, target, files }, i) => {
          checkpoint(i, songs.length);
          const played = rehearse(files, target);
          const end = played.events.reduce((us, e) => Math.max(us, e.atUs + (e.lengthUs ?? 0)), 0);
          return {
            key,
            lengthMs: end / 1000,
            events: played.events.length,
            refused: played.refused.slice(0, 3).map((r) => `${r.file}: ${r.says}`),
            dropped: played.dropped.length,
          };
        }),
      ),

    matchSongs: (call, { files, songs }, progress) =>
      answer(call, progress, (checkpoint) => {
        const all = files.length + songs.length;
        const prints = [...files, ...songs.map((s) => s.source)].map((ref, i) => {
          checkpoint(i, all);
          return fingerprintOf(sourceOf(ref));
        });
        return matchSongs(
          files.map((f, i) => ({ key: f.key, names: [f.name], print: prints[i]! })),
          songs.map(({ key, source }, i) => ({
            key,
            names: [source.name],
            print: prints[files.length + i]!,
          })),
        );
      }),
  };
};
