/** Every key of the main path; what is shown by `?` and what is bound come from this one list. */
export interface Key {
  readonly id: string;
  /** As tinykeys writes it; several mean the same. */
  readonly press: readonly string[];
  readonly shown: readonly string[];
  readonly says: string;
}

export const KEYS = [
  { id: 'play', press: ['Space'], shown: ['Space'], says: 'Play or stop' },
  { id: 'undo', press: ['$mod+z'], shown: ['Ctrl', 'Z'], says: 'Undo the last change to the plan' },
  {
    id: 'redo',
    press: ['$mod+Shift+z', '$mod+y'],
    shown: ['Ctrl', 'Shift', 'Z'],
    says: 'Redo what was undone',
  },
  {
    id: 'next-finding',
    press: ['n', 'Alt+ArrowDown'],
    shown: ['N'],
    says: 'Next margin note; the sheet follows',
  },
  { id: 'last-finding', press: ['p', 'Alt+ArrowUp'], shown: ['P'], says: 'Margin note before' },
  { id: 'mend', press: ['m'], shown: ['M'], says: 'Apply the first mend of the note in view' },
  {
    id: 'mend-all',
    press: ['Shift+m'],
    shown: ['Shift', 'M'],
    says: 'Apply every mend that loses nothing',
  },
  { id: 'before', press: ['b'], shown: ['B'], says: 'Hold: the source before any change' },
  {
    id: 'choose',
    press: ['a'],
    shown: ['A'],
    says: 'Choose every note that the margin note in view names',
  },
  { id: 'last-part', press: ['['], shown: ['['], says: 'Part before' },
  { id: 'next-part', press: [']'], shown: [']'], says: 'Next part' },
  { id: 'listen', press: ['l'], shown: ['L'], says: 'Listen to the source, or as delivered' },
  { id: 'bar', press: ['h'], shown: ['H'], says: 'Hear this bar, of the chosen part or of all' },
  { id: 'loop', press: ['r'], shown: ['R'], says: 'Loop these bars, or no loop' },
  { id: 'start', press: ['Home'], shown: ['Home'], says: 'To the start' },
  {
    id: 'handover',
    press: ['$mod+Enter'],
    shown: ['Ctrl', 'Enter'],
    says: 'Hand over, as the last time',
  },
  { id: 'clear', press: ['Escape'], shown: ['Esc'], says: 'Choose nothing' },
  { id: 'wheel', press: ['q'], shown: ['Q'], says: 'Try-out wheel for the chosen part' },
  {
    id: 'wheel-turn',
    press: [],
    shown: ['Page up', 'Page down'],
    says: 'At the wheel: candidates; Enter keeps one, Esc goes back',
  },
  { id: 'close-up', press: ['c'], shown: ['C'], says: 'Close-up: open or close' },
  {
    id: 'by-hand',
    press: [],
    shown: ['←', '→', '↑', '↓'],
    says: 'In the close-up: move the chosen notes; with Alt by 1 ms, with Ctrl lengthen',
  },
  { id: 'draw', press: [], shown: ['D'], says: 'In the close-up: draw notes, or no longer' },
  {
    id: 'other-side',
    press: [],
    shown: ['X'],
    says: 'In the close-up: chosen notes to the other side of the split that parted them',
  },
  {
    id: 'aim',
    press: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
    shown: ['1', '…', '9'],
    says: 'In Seating: aim at a seat',
  },
  {
    id: 'seat',
    press: ['Enter'],
    shown: ['Enter'],
    says: 'In Seating: seat the chosen parts; in the rehearsal: hands on, until Esc',
  },
  {
    id: 'leave-out',
    press: ['Delete'],
    shown: ['Delete'],
    says: 'In Seating: leave the chosen parts out; in the close-up: take the notes out',
  },
  { id: 'jot', press: ['j'], shown: ['J'], says: 'In the rehearsal: note what was heard here' },
  { id: 'keys', press: [], shown: ['?'], says: 'These keys' },
] as const satisfies readonly Key[];

export type KeyId = (typeof KEYS)[number]['id'];

const TAKES_TYPING =
  'input, textarea, select, [contenteditable], .n-modal, .n-base-selection, [role="listbox"]';
const HAS_ITS_OWN_UNDO = 'input, textarea, [contenteditable], .n-modal';
const TAKES_SPACE =
  'button, summary, [role="option"], [role="switch"], [role="tab"], [role="checkbox"], [role="slider"]';
const REPEATS = new Set<KeyId>([
  'next-finding',
  'last-finding',
  'last-part',
  'next-part',
  'undo',
  'redo',
]);

/** Bindings for tinykeys: nothing happens while something is typed or a dialog is open. */
export function bindings(
  actions: Partial<Record<KeyId, (event: KeyboardEvent) => void>>,
): Record<string, (event: KeyboardEvent) => void> {
  const out: Record<string, (event: KeyboardEvent) => void> = {};
  for (const key of KEYS) {
    const action = actions[key.id];
    if (!action) continue;
    for (const press of key.press)
      out[press] = (event) => {
        const target = event.target as HTMLElement;
        // A list that was chosen from keeps the focus; undo is not typed into it.
        const typing = key.id === 'undo' || key.id === 'redo' ? HAS_ITS_OWN_UNDO : TAKES_TYPING;
        if (target.closest(typing)) return;
        // What takes the space bar keeps it; a link does not.
        if (press === 'Space' && target.closest(TAKES_SPACE)) return;
        if (press === 'Enter' && target.closest(`a, ${TAKES_SPACE}`)) return;
        // A key held down repeats only what moves.
        if (event.repeat && !REPEATS.has(key.id)) return;
        event.preventDefault();
        action(event);
      };
  }
  return out;
}
