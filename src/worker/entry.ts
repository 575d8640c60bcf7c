import * as Comlink from 'comlink';
import { engine } from './engine';

Comlink.expose(engine);
