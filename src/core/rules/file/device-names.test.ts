import { expect, it } from 'vitest';
import { builtInTargets } from '../../target/index';
import { plainName } from '../../smf/name';
import { nameAllowed } from '../../target/naming';
import { fitName } from './file-name';

it('a name that is offered is allowed, and written as it is offered, whatever the file was called', () => {
  const asked = [
    'CON.mid',
    'nul.mid',
    'COM1.x.mid',
    'lpt9.mid',
    'prn.a.b.mid',
    '..dots.mid',
    ' lead.mid',
    'Été.mid',
    'ÜBER.mid',
    '火の歌.mid',
    '...mid',
    'a\u202eb.mid',
    'x'.repeat(200) + '.mid',
    '😀.mid',
    '_con.mid',
    'Con stellation.mid',
    'x😀x😀x😀x😀x😀.mid',
  ];
  let judged = 0;
  for (const { id, naming } of builtInTargets)
    for (const name of naming && !naming.only ? asked : []) {
      const to = fitName(naming!, name);
      expect(nameAllowed(naming!, to), `${id}: ${name} → ${to}`).toBe(true);
      expect(plainName(to)).toBe(to);
      judged++;
    }
  expect(judged).toBeGreaterThanOrEqual(3 * asked.length);
});
