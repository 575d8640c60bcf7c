import { vi } from 'vitest';

/**
 * What stands in for the machine in the tests of the application: the engine without its worker, a
 * player without a sound device, a file that is saved nowhere.
 */
vi.mock('../src/app/stores/engine', async () =>
  (await import('./engine-without-worker')).engineModule(),
);
vi.mock('../src/app/audio/player', async () => ({
  Player: (await import('./stub-player')).StubPlayer,
}));
vi.mock('../src/app/storage/save-file', () => ({
  saveFile: vi.fn(),
  typeOf: () => 'audio/midi',
}));
