// Generates and builds everything anew.
import { build, install } from './setup.mjs';

install();
build({ force: true });
