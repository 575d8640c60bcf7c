import type { Container } from '../../formats/own/schema';
import type { Finding } from './solve';

export interface Found {
  readonly container: Container;
  readonly findings: readonly Finding[];
}
