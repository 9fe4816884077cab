import { aside, Ended, guarded, kept } from './guard';

/** A worker that answers nothing by itself. */
function someWorker() {
  const worker = {
    postMessage: jest.fn(),
    addEventListener: jest.fn(),
    removeEventListener: jest.fn(),
    terminate: jest.fn(),
    onerror: undefined as (() => void) | undefined,
    onmessageerror: undefined as (() => void) | undefined,
  };
  return worker as typeof worker & Worker;
}
const never = () => new Promise<never>(() => {});

test('whoever waits for a worker learns that it died, and so does who asks later', async () => {
  const worker = someWorker();
  const { ask, gone } = guarded(worker);
  const waiting = ask(never);
  worker.onerror!(undefined as never);
  await expect(waiting).rejects.toThrow('died');
  await expect(gone).rejects.toThrow('died');
  await expect(ask(never)).rejects.toThrow('died');
  expect(worker.terminate).toHaveBeenCalled();
});

test('an answer that cannot be read is not waited for', async () => {
  const worker = someWorker();
  const waiting = guarded(worker).ask(never);
  worker.onmessageerror!(undefined as never);
  await expect(waiting).rejects.toThrow('could not be read');
});

test('a worker for one job is ended with it, and with its cancelling', async () => {
  const worker = someWorker();
  expect(await aside(worker, async () => 7).result).toBe(7);
  expect(worker.terminate).toHaveBeenCalled();
  const other = someWorker();
  const { result, cancel } = aside(other, never);
  cancel();
  await expect(result).rejects.toBeInstanceOf(Ended);
  expect(other.terminate).toHaveBeenCalled();
});

test('a worker is kept from one job to the next until it dies; then there is a new one', async () => {
  const made: ReturnType<typeof someWorker>[] = [];
  const worker = kept(() => {
    made.push(someWorker());
    return made.at(-1)!;
  });
  expect(worker()).toBe(worker());
  const waiting = worker().ask(never);
  made[0].onerror!(undefined as never);
  await expect(waiting).rejects.toThrow();
  expect(await worker().ask(async () => 'again')).toBe('again');
  expect(made).toHaveLength(2);
});
