/** Fails when a worker does: what is asked of it would never be answered then. */
export function died(worker: Worker): Promise<never> {
  const failing = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('The worker died.'));
  });
  // It may die while nothing waits for it.
  failing.catch(() => {});
  return failing;
}
