/** Controllers that are set once at the start. MIDI 1.0, "Controller numbers"; 91 by GM 2. */
export const SET_UP = [
  { number: 7, name: 'Volume', begins: 100 },
  { number: 10, name: 'Pan', begins: 64 },
  { number: 91, name: 'Depth', begins: 40 },
] as const;
