/** Receives the samples of a file as they are rendered. */
export interface Encoding {
  /** Takes what comes next, before the same room is filled anew. */
  add(left: Float32Array, right: Float32Array): void | Promise<void>;
}
