// Installs and builds where needed, starts the server, prints the address with the lantern week.
import { build, install } from './setup.mjs';

install();
build();
await import('../dist/server/main.mjs');
