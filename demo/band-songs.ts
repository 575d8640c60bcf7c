import { degree, seeded } from './song';
import { Band, type BandSong, Player, type Roll, triad } from './bands/band';
import { bassLine, kit, pad, play, range, tuneOf } from './bands/lines';

const WORDS = ['down ', 'the ', 'tide ', 'goes ', 'out ', 'and ', 'lan', 'terns ', 'burn '];

const STYLES: Readonly<Record<string, (roll: Roll, name: string) => BandSong>> = {
  'sung with strings above': (roll, name) => {
    const b = new Band(roll);
    const voice = b.player(
      ['Vocal', 'Singer', 'Voice'][roll(3)]!,
      [52, 53, 85, 54][roll(4)]!,
      'lead',
    );
    const line = tuneOf(b, 4, b.bars, roll(9000));
    play(
      voice,
      b,
      line.filter((n) => b.section(n.bar) !== 2),
      b.root,
      96,
    );
    if (roll(2) === 0)
      line.forEach((n, i) =>
        voice.track.text(Math.round(n.bar * b.bar + n.at * b.ppq), 5, WORDS[i % WORDS.length]!),
      );
    const guitar = b.player('Solo guitar', 29);
    play(
      guitar,
      b,
      tuneOf(b, 4, b.bars, roll(9000), 2).filter((n) => b.section(n.bar) === 2),
      b.root + 12,
      98,
    );
    const flute = b.player('Flute', 73);
    play(
      flute,
      b,
      line.filter((n) => b.section(n.bar) === 1),
      b.root + 12,
      62,
    );
    const piano = b.player('Piano', 0);
    range(0, b.bars).forEach((bar) =>
      range(0, b.beats).forEach((q) => {
        if (q % 2 === 0 || roll(3) === 0) piano.chord(bar, q, 0.9, triad(b, bar, 62, 3), 66);
        if (q === 0) piano.hit(bar, 0, 2, degree(b.mode, b.root - 24, b.chord(bar)), 70);
      }),
    );
    pad(b.player('Strings', 48), b, 72 + roll(6), 56, 12);
    const strum = b.player('Acoustic guitar', 25);
    range(4, b.bars).forEach((bar) =>
      [0, 1, 1.5, 2.5, 3].forEach((at) => strum.strum(bar, at, 0.6, triad(b, bar, 52, 5), 68)),
    );
    bassLine(b.player('Bass', 33, 'bass'), b, 'roots');
    kit(b.player('Drums', 0, 'drums'), b, 'rock');
    return b.song('', name);
  },
  'sax and a trio': (roll, name) => {
    const b = new Band(roll, { swing: 1 });
    const sax = b.player('Tenor sax', 66, 'lead');
    const piano = b.player('Piano', 0);
    const line = tuneOf(b, 4, b.bars, roll(9000), 2);
    play(
      sax,
      b,
      line.filter((n) => b.section(n.bar) !== 2),
      b.root - (roll(2) ? 0 : 12) + 7,
      94,
    );
    range(0, b.bars).forEach((bar) => {
      const solo = b.section(bar) === 2;
      for (const at of roll(2) ? [1.5, 3] : [0.5, 2.5])
        piano.chord(bar, at, 0.5, triad(b, bar, solo ? 50 : 58, 4), 62);
    });
    play(
      piano,
      b,
      line.filter((n) => b.section(n.bar) === 2),
      b.root + 12,
      88,
    );
    bassLine(b.player('Upright bass', 32, 'bass'), b, 'walk', 0);
    kit(b.player('Kit', 0, 'drums'), b, 'swing', 0);
    return b.song('', name);
  },
  'march of brass': (roll, name) => {
    const b = new Band(roll);
    const line = tuneOf(b, 0, b.bars, roll(9000));
    const first = b.player('1st trumpet', 56, 'lead');
    play(first, b, line, b.root + 7, 98);
    play(b.player('2nd trumpet', 56), b, line, b.root + 7, 84, -2);
    const high = b.player('Piccolo', 72);
    range(0, b.bars).forEach((bar) => {
      if (b.section(bar) === 1)
        range(0, b.beats * 2).forEach((e) =>
          high.hit(
            bar,
            e / 2,
            0.4,
            degree(b.mode, b.root + 24, b.chord(bar) + [0, 2, 4, 2][e % 4]!),
            70,
          ),
        );
    });
    const horns = b.player('Horns', 60);
    range(0, b.bars).forEach((bar) =>
      [1, 3].forEach((q) => horns.chord(bar, q, 0.5, triad(b, bar, 55, 3), 70)),
    );
    bassLine(b.player('Tuba', 58, 'bass'), b, 'oom', 0);
    kit(b.player('Side drum', 0, 'drums'), b, 'march', 0);
    return b.song('', name);
  },
  'four bows': (roll, name) => {
    const b = new Band(roll);
    const names = ['Violin 1', 'Violin 2', 'Viola', 'Cello'];
    const [v1, v2, va, vc] = names.map((n, i) =>
      b.player(n, [40, 40, 41, 42][i]!, i === 0 ? 'lead' : i === 3 ? 'bass' : undefined),
    ) as [Player, Player, Player, Player];
    const line = tuneOf(b, 0, b.bars, roll(9000), 2);
    play(
      v1,
      b,
      line.filter((n) => b.section(n.bar) !== 2),
      b.root + 12,
      88,
    );
    play(
      vc,
      b,
      line.filter((n) => b.section(n.bar) === 2),
      b.root - 12,
      96,
    );
    range(0, b.bars).forEach((bar) => {
      const keys = triad(b, bar, 58, 3);
      range(0, b.beats * 2).forEach((e) => v2.hit(bar, e / 2, 0.45, keys[1 + (e % 2)]!, 60));
      va.hit(bar, 0, b.beats / 2, keys[0]! - (keys[0]! > 62 ? 12 : 0), 64);
      va.hit(bar, b.beats / 2, b.beats / 2, keys[1]! - 12, 64);
      if (b.section(bar) !== 2)
        vc.hit(bar, 0, b.beats * 0.9, degree(b.mode, 36 + (b.root % 12), b.chord(bar)), 70);
      else v1.hit(bar, 0, b.beats * 0.9, keys[2]! + 12, 58);
    });
    return b.song('', name);
  },
  'machines at night': (roll, name) => {
    const b = new Band(roll);
    const arp = b.player('Arp', 81);
    range(0, b.bars).forEach((bar) =>
      range(0, b.beats * 4).forEach((s) =>
        arp.hit(
          bar,
          s / 4,
          0.22,
          degree(b.mode, b.root + 12, b.chord(bar) + [0, 2, 4, 7][s % 4]!),
          78,
        ),
      ),
    );
    const lead = b.player('Synth lead', 80, 'lead');
    play(lead, b, tuneOf(b, 12, b.bars, roll(9000)), b.root + 12, 104);
    pad(b.player('Pad', 89), b, 55, 60);
    bassLine(b.player('Synth bass', 38, 'bass'), b, 'octaves');
    kit(b.player('Beats', 0, 'drums'), b, 'four');
    return b.song('', name);
  },
  'fiddle and whistle': (roll, name) => {
    const b = new Band(roll);
    const line = tuneOf(b, 0, b.bars, roll(9000), 2);
    play(b.player('Fiddle', 40, 'lead'), b, line, b.root + 7, 92);
    play(
      b.player('Whistle', 74, 'lead'),
      b,
      line.filter((n) => n.bar >= 12),
      b.root + 19,
      80,
    );
    const box = b.player('Accordion', 21);
    range(4, b.bars).forEach((bar) =>
      range(0, b.beats).forEach((q) => {
        if (q % 2 === 0) box.hit(bar, q, 0.5, degree(b.mode, b.root - 24, b.chord(bar)), 80);
        else box.chord(bar, q, 0.4, triad(b, bar, 57, 3), 64);
      }),
    );
    const strum = b.player('Guitar', 25);
    range(4, b.bars).forEach((bar) =>
      [0, 1, 2, 2.5, 3].forEach((at) => strum.strum(bar, at, 0.5, triad(b, bar, 48, 5), 62)),
    );
    kit(b.player('Bodhran', 0, 'drums'), b, 'march', 4);
    return b.song('', name);
  },
  'piano for two hands': (roll, name) => {
    const b = new Band(roll);
    const right = b.player('Right hand', 0, 'lead');
    const left = b.player('Left hand', 0, 'bass');
    const line = tuneOf(b, 0, b.bars, roll(9000), 1 + roll(2));
    play(right, b, line, b.root + 12, 86);
    line.forEach((n) => {
      if (n.at === 0) right.chord(n.bar, 0, n.long, triad(b, n.bar, 55, 2), 58);
    });
    range(0, b.bars).forEach((bar) => {
      const low = degree(b.mode, 36 + (b.root % 12), b.chord(bar));
      range(0, b.beats * 2).forEach((e) =>
        left.hit(bar, e / 2, 0.6, e === 0 ? low : triad(b, bar, 50, 3)[e % 3]!, e === 0 ? 72 : 54),
      );
    });
    return b.song('', name);
  },
  'loud guitars': (roll, name) => {
    const b = new Band(roll);
    const rhythm = b.player('Rhythm guitar', 30);
    range(0, b.bars).forEach((bar) =>
      range(0, b.beats * 2).forEach((e) => {
        const low = degree(b.mode, b.root - 19, b.chord(bar));
        if (e % 3 !== 2 || b.section(bar) === 1)
          rhythm.chord(bar, e / 2, 0.45, [low, low + 7, low + 12], 100);
      }),
    );
    const riff = b.player('Riff guitar', 29);
    range(0, b.bars).forEach((bar) => {
      if (bar < 4 || b.section(bar) !== 1)
        [0, 1.5, 2, 3.5].forEach((at, i) =>
          riff.hit(bar, at, 0.4, degree(b.mode, b.root, [0, 2, 3, 1][i]!), 88),
        );
    });
    const sung = b.player('Melody', [54, 65, 85][roll(3)]!, 'lead');
    play(sung, b, tuneOf(b, 4, b.bars, roll(9000)), b.root, 104);
    bassLine(b.player('Bass guitar', 34, 'bass'), b, 'roots', 0);
    kit(b.player('Drum kit', 0, 'drums'), b, 'rock', 0);
    return b.song('', name);
  },
  'waltz on the quay': (roll, name) => {
    const b = new Band(roll, { beats: 3 });
    const line = tuneOf(b, 4, b.bars, roll(9000));
    play(b.player('Clarinet', 71, 'lead'), b, line, b.root, 90);
    const strings = b.player('Strings', 48);
    range(12, b.bars).forEach((bar) => {
      strings.hit(bar, 0, 2.9, degree(b.mode, b.root + 12, b.chord(bar) + 4), 54);
      strings.hit(bar, 0, 2.9, degree(b.mode, b.root, b.chord(bar) + 2), 54);
    });
    const box = b.player('Accordion', 21);
    range(0, b.bars).forEach((bar) =>
      [1, 2].forEach((q) => box.chord(bar, q, 0.6, triad(b, bar, 55, 3), 64)),
    );
    bassLine(b.player('Double bass', 32, 'bass'), b, 'oom', 0);
    return b.song('', name);
  },
  'a full orchestra': (roll, name) => {
    const b = new Band(roll);
    const line = tuneOf(b, 0, b.bars, roll(9000));
    const violins = b.player('Violins', 48, 'lead');
    play(
      violins,
      b,
      line.filter((n) => b.section(n.bar) !== 2),
      b.root + 12,
      92,
    );
    play(
      b.player('Flute', 73, 'lead'),
      b,
      line.filter((n) => b.section(n.bar) === 1),
      b.root + 24,
      74,
    );
    const oboe = b.player('Oboe', 68);
    play(
      oboe,
      b,
      line.filter((n) => b.section(n.bar) === 2),
      b.root + 12,
      90,
    );
    const harp = b.player('Harp', 46);
    range(0, b.bars).forEach((bar) =>
      range(0, b.beats * 2).forEach((e) =>
        harp.hit(
          bar,
          e / 2,
          0.5,
          degree(b.mode, b.root - 12, b.chord(bar) + [0, 2, 4, 7, 9, 7, 4, 2][e % 8]!),
          58,
        ),
      ),
    );
    pad(b.player('Horns', 60), b, 50, 60, 4, 2);
    pad(b.player('Violas', 41), b, 58, 54);
    const cellos = b.player('Cellos', 42, 'bass');
    range(0, b.bars).forEach((bar) =>
      cellos.hit(bar, 0, b.beats * 0.95, degree(b.mode, 36 + (b.root % 12), b.chord(bar)), 72),
    );
    const basses = b.player('Basses', 43, 'bass');
    range(0, b.bars).forEach((bar) =>
      basses.hit(bar, 0, b.beats * 0.95, degree(b.mode, 24 + (b.root % 12), b.chord(bar)), 66),
    );
    const timpani = b.player('Timpani', 47);
    range(4, b.bars).forEach((bar) => bar % 4 === 3 && timpani.hit(bar, 3, 0.5, 43, 90));
    return b.song('', name);
  },
  'organ and choir': (roll, name) => {
    const b = new Band(roll);
    const choir = [
      ['Soprano', 0, 'lead'],
      ['Alto', -2, undefined],
      ['Tenor', -5, undefined],
      ['Basso', -14, 'bass'],
    ] as const;
    const line = tuneOf(b, 0, b.bars, roll(9000));
    for (const [voice, down, as] of choir) {
      const p = b.player(voice, 52, as);
      if (as === 'bass')
        range(0, b.bars).forEach((bar) =>
          [0, 2].forEach((q) =>
            p.hit(bar, q, 1.9, degree(b.mode, b.root - 17, b.chord(bar) + q), 78),
          ),
        );
      else play(p, b, line, b.root + 5, 80, down);
    }
    pad(b.player('Organ', 19), b, 52, 50, 0, 4);
    return b.song('', name);
  },
  'off the beat': (roll, name) => {
    const b = new Band(roll);
    const organ = b.player('Organ', 16);
    range(0, b.bars).forEach((bar) =>
      range(0, b.beats).forEach((q) => organ.chord(bar, q + 0.5, 0.3, triad(b, bar, 62, 3), 74)),
    );
    const reed = b.player('Melodica', 22, 'lead');
    play(reed, b, tuneOf(b, 8, b.bars, roll(9000)), b.root, 96);
    const skank = b.player('Guitar', 27);
    range(0, b.bars).forEach((bar) =>
      [1, 3].forEach((q) => skank.strum(bar, q, 0.25, triad(b, bar, 60, 4), 80)),
    );
    bassLine(b.player('Bass', 33, 'bass'), b, 'roots', 0);
    kit(b.player('Drums', 0, 'drums'), b, 'rock', 0);
    return b.song('', name);
  },
};

/** Forty-eight songs, the same on every machine. */
export function bandSongs(): BandSong[] {
  return Object.entries(STYLES).flatMap(([shape, make], s) =>
    Array.from({ length: 4 }, (_, n) => {
      const name = `${shape.replace(/[^a-z0-9]+/gi, '-')}-${n + 1}.mid`;
      return { ...make(seeded(7001 + s * 97 + n * 13), name), shape };
    }),
  );
}
