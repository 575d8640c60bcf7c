import { chartFormat, type Chart } from '../../formats/chart';
import { readJson, type FormatDefinition } from '../../formats/define-format';
import { Gate } from '../../score/gate';
import type { Metadata } from '../../score/piece';
import type { SourceReader } from './define-reader';
import { newFile, type NewNote } from './tracks';

/** Our chart: its lines become parts, its flags are kept, and it hands over the same bytes again. */
export const chartReader: SourceReader = {
  id: 'chart',
  suits: (text) => /^\s*\{/.test(text),
  read(text) {
    const { data: chart, problems } = readJson(chartFormat as FormatDefinition<Chart>, text);
    if (!chart) {
      const [first] = problems;
      return { fault: { place: first!.path || 'the whole file', says: first!.says } };
    }
    const gate = new Gate();
    for (const [l, line] of chart.lines.entries()) {
      let last = 0;
      for (const [s, strike] of line.strikes.entries()) {
        const place = () => `lines[${l}].strikes[${s}]`;
        for (const lane of strike.lanes) {
          if (lane > line.keys.length)
            gate.refuse(
              `${place()}.lanes`,
              `There is no lane ${lane}: ${line.name} has ${line.keys.length}.`,
            );
          gate.one(place);
        }
        if (strike.tick < last) gate.refuse(place(), 'A strike lies before the one above it.');
        last = strike.tick;
        gate.end(strike.tick, strike.lengthTicks, place);
        if (gate.refused) return gate.refused;
      }
    }
    const rising = (list: readonly { readonly tick: number }[], name: string) => {
      const at = list.findIndex((e, i) => i > 0 && e.tick < list[i - 1]!.tick);
      if (at > 0) gate.refuse(`${name}[${at}]`, 'It lies before the one above it.');
    };
    rising(chart.tempos, 'tempos');
    rising(chart.meters, 'meters');
    rising(chart.sections, 'sections');
    if (gate.refused) return gate.refused;
    // Rungs of one part share its track, and are told apart by their channels.
    const names = [...new Set(chart.lines.map((l) => l.track ?? l.name))];
    const tracks = names.map((track) => ({
      name: track,
      notes: chart.lines
        .filter((l) => (l.track ?? l.name) === track)
        .flatMap((line) =>
          line.strikes.flatMap((s) =>
            s.lanes.map((lane): NewNote => ({
              tick: s.tick,
              length: s.lengthTicks,
              channel: line.channel,
              key: line.keys[lane - 1]!,
              velocity: s.velocity,
            })),
          ),
        ),
    }));
    const flags = chart.lines.flatMap((line) =>
      line.strikes.flatMap((s) =>
        s.flags.flatMap((flag) =>
          s.lanes.map((lane) => ({
            flag,
            // Behind the conductor.
            track: names.indexOf(line.track ?? line.name) + 1,
            channel: line.channel,
            tick: s.tick,
            key: line.keys[lane - 1]!,
          })),
        ),
      ),
    );
    const { tempos, meters, sections, title, maker, bpm, sound } = chart;
    const metadata: Metadata = {
      ...(title === null ? {} : { title }),
      ...(maker === null ? {} : { maker }),
      ...(bpm === null ? {} : { bpm: String(bpm) }),
      ...(sound === null ? {} : { sound: sound.file }),
      ...(sound?.lengthUs == null ? {} : { soundMs: String(sound.lengthUs / 1000) }),
    };
    const markers = sections.map((s) => ({ tick: s.tick, text: s.name }));
    return {
      file: newFile(chart.ppq, chart.endTick, { tempos, meters, markers }, tracks),
      extras: {
        meantFor: chart.target,
        metadata,
        ...(flags.length > 0 ? { flags } : {}),
      },
      doubts: [],
    };
  },
};
