import '../core/target/no-eval';
import * as Comlink from 'comlink';
import { makeEngine } from './engine';

Comlink.expose(makeEngine());
