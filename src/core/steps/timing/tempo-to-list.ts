import * as z from 'zod';
import { bpmOf } from '../../time/tempo-map';
import { defineStep, done, withScore } from '../define-step';
import { isWholeBpm, wholeTempo } from '../../time/tempos';
import { plain } from '../../target/words';
import { withDefault } from './tempo-params';

export const tempoToList = defineStep({
  id: 'tempo-to-list',
  reach: 'piece',
  title: 'Nearest allowed tempo',
  summary: 'Brings each tempo to the nearest that the target has, holding bars.',
  params: z.strictObject({
    bpms: z.array(z.number().min(1).max(1000)).max(1000).optional().describe('Tempos in BPM'),
    whole: z.boolean().optional().describe('Whole numbers'),
    lowestBpm: z.number().min(1).max(1000).optional(),
    highestBpm: z.number().min(1).max(1000).optional(),
  }),
  describe: (p) =>
    p.bpms?.length ? `nearest tempo of ${p.bpms.map(plain).join(', ')}` : 'nearest whole tempo',
  apply({ piece, params }) {
    const list = params.bpms?.map((b) => Math.round(60_000_000 / b));
    if (!list?.length && !params.whole) return { refused: 'A list of tempos is needed.' };
    const { conductor } = piece.score;
    let events = 0;
    const tempos = withDefault(conductor.tempos).map((t) => {
      const bpm = bpmOf(t.microsecondsPerQuarter);
      let us = t.microsecondsPerQuarter;
      if (list?.length)
        us = list.reduce((a, b) => (Math.abs(bpmOf(b) - bpm) < Math.abs(bpmOf(a) - bpm) ? b : a));
      else if (!isWholeBpm(us)) us = wholeTempo(Math.max(1, Math.round(bpm)));
      const slowest = params.lowestBpm === undefined ? us : wholeTempo(params.lowestBpm);
      const fastest = params.highestBpm === undefined ? us : wholeTempo(params.highestBpm);
      us = Math.max(fastest, Math.min(slowest, us));
      if (us === t.microsecondsPerQuarter) return t;
      events++;
      return { ...t, microsecondsPerQuarter: us };
    });
    const next = events === 0 ? piece : withScore(piece, { conductor: { ...conductor, tempos } });
    return done(next, { events, eventWords: 'tempos changed' });
  },
});
