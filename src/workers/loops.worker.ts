import * as Comlink from 'comlink';
import { onsetsOf } from '../core/loops';

const loopsWorker = { onsets: onsetsOf };

export type LoopsWorker = typeof loopsWorker;

Comlink.expose(loopsWorker);
