import { besideDevices, plainName, stemOf } from '../smf/name';
import type { PlanStep } from '../plan/plan';
import type { Target } from '../target/schema';

const NOT_OF: Readonly<Record<string, RegExp>> = {
  'A-Z0-9': /[^A-Z0-9]/g,
  'a-z0-9': /[^a-z0-9]/g,
  'A-Za-z0-9': /[^A-Za-z0-9]/g,
};

/** A name in the letters and the length that a target takes, without an ending. */
export function spelt(title: string, target: Target): string {
  const { naming } = target;
  const ascii = title.normalize('NFD').replace(/\p{M}/gu, '');
  const letters = naming?.letters ?? 'any';
  const cased =
    letters === 'A-Z0-9' ? ascii.toUpperCase() : letters === 'a-z0-9' ? ascii.toLowerCase() : ascii;
  const kept = letters === 'any' ? plainName(title) : cased.replace(NOT_OF[letters]!, '');
  const longest = naming?.longest ?? 60;
  const cut = besideDevices([...kept].slice(0, longest).join(''));
  const none = letters === 'A-Z0-9' ? 'SONG' : 'song';
  return ([...cut].length > longest ? `${[...cut].slice(0, longest - 1).join('')}1` : cut) || none;
}

/** The nth name where several are one: the end gives way to a number as long as the name may be. */
export function apart(name: string, n: number, target: Target): string {
  const longest = target.naming?.longest ?? 60;
  const tail = target.naming && target.naming.letters !== 'any' ? String(n) : ` ${n}`;
  return `${[...name].slice(0, longest - tail.length).join('')}${tail}`;
}

/** `07` and a space where the target has one: the number of a song before its name. */
export function numbered(name: string, n: number, digits: number, target: Target): string {
  const bare = name.replace(/^\d+[ _-]*/, '') || name;
  const joint = target.naming && target.naming.letters !== 'any' ? '' : ' ';
  const number = `${String(n).padStart(digits, '0')}${joint}`;
  const room = (target.naming?.longest ?? 60) - number.length;
  return `${number}${[...bare].slice(0, room).join('')}`;
}

/** The number that a name begins with; null where there is none of as many digits. */
export function numberOf(name: string, digits: number): number | null {
  const found = /^\d+/.exec(name)?.[0];
  return found?.length === digits ? Number(found) : null;
}

/** What a file is called, whatever folder it is in and whatever ending it has. */
export const fileStem = (path: string): string =>
  stemOf(path.split('/').at(-1)!).replace(/\.[A-Za-z0-9]{1,8}$/, '');

/**
 * The steps by which a song goes out under a name of the set: of the display where the target has
 * one, and of the file where there is one file of notes. Files of places keep theirs.
 */
export function nameSteps(name: string | undefined, target: Target, pieces: number): PlanStep[] {
  if (name === undefined) return [];
  const steps: PlanStep[] = [];
  const step = (id: string, params: unknown): PlanStep => ({
    key: `set-${id}`,
    step: id,
    params,
    scope: {},
    on: true,
  });
  const display = target.metadata?.required.find((r) => r.key === 'displayName');
  if (display) {
    const longest = display.longest ?? 60;
    const plain = name.normalize('NFD').replace(/\p{M}/gu, '').replace(/_/g, ' ');
    const letters = display.letters ? plain.replace(/[^A-Za-z0-9 '-]/g, '') : plain;
    steps.push(step('metadata', { displayName: [...letters].slice(0, longest).join('').trim() }));
  }
  if (pieces === 1)
    steps.push(step('name-file', { name: `${name}${target.naming?.ending ?? '.mid'}` }));
  return steps;
}
