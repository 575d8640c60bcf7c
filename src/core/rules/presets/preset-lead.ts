import type { Preset } from '../../reading/curves';
import { placesFor } from '../../reading/preset-places';
import { leadPresets } from '../../steps/presets/presets';
import { count, plain, sayMs } from '../../target/words';
import { defineRule, HAIR, mend, says } from '../define-rule';
import { nameOf, places } from './block-presets';

export const presetLead = defineRule({
  id: 'preset-lead',
  summary: 'A preset leads the place that it is for by as long as it takes to load.',
  story: {
    why: 'The preset was put on the bar line, or was recorded by foot.',
    mends: 'All of them are put one lead before their markers or bar lines.',
  },
  block: 'presets',
  reads: ['leadLeastMs', 'leadMostMs'],
  phase: 'events',
  codes: {
    'preset-lead': says<{
      countText: string;
      worstText: string;
      name: string;
      rangeText: string;
      place: string;
      late: number;
      one: number;
    }>({
      title: 'Preset at the wrong moment',
      named: (f) => (f.late ? 'Presets too late' : 'Presets too early'),
      wrong: (f) =>
        `${f.countText} ${f.one ? 'does' : 'do'} not stand ${f.rangeText} ms before the ${f.place}: ${f.name} ${f.worstText}.`,
      then: (f, w) =>
        f.late
          ? `${w.Target} still sounds as before when the place comes.`
          : `${w.Target} changes while the place before is still heard.`,
    }),
  },
  check({ presets, block, piece, maps, report }) {
    const { leadLeastMs = 0, leadMostMs = Infinity, leadTo: to = 'markers' } = block;
    const placeFor = placesFor(to, piece.score.conductor.markers, maps);
    const wrong: { preset: Preset; lead: number }[] = [];
    for (const preset of presets()) {
      if (preset.tick === 0) continue;
      const lead = maps.clock.msAt(placeFor(preset.tick)) - maps.clock.msAt(preset.tick);
      if (lead < leadLeastMs - HAIR || lead > leadMostMs + HAIR) wrong.push({ preset, lead });
    }
    if (wrong.length === 0) return;
    const off = (lead: number) => Math.max(leadLeastMs - lead, lead - leadMostMs);
    const worst = wrong.reduce((w, x) => (off(x.lead) > off(w.lead) ? x : w));
    const leadMs = Math.round(
      Number.isFinite(leadMostMs) ? (leadLeastMs + leadMostMs) / 2 : leadLeastMs,
    );
    const before = Math.round(worst.lead);
    report({
      code: 'preset-lead',
      spans: places(wrong.map((w) => w.preset)),
      data: {
        countText: count(wrong.length, 'preset'),
        worstText:
          before >= 0 ? `${sayMs(before, leadMostMs)} ms before` : `${sayMs(-before)} ms behind`,
        name: nameOf(block, worst.preset),
        rangeText: Number.isFinite(leadMostMs)
          ? `${plain(leadLeastMs)} to ${plain(leadMostMs)}`
          : `${plain(leadLeastMs)} or more`,
        place: to === 'markers' ? 'marker' : 'bar line',
        late: worst.lead < leadLeastMs ? 1 : 0,
        one: wrong.length === 1 ? 1 : 0,
      },
      measured: { value: worst.lead, unit: 'ms' },
      allowed: { leadLeastMs, ...(Number.isFinite(leadMostMs) ? { leadMostMs } : {}) },
      mends: [mend(`Put each ${leadMs} ms before its place`, leadPresets, { leadMs, to })],
    });
  },
});
