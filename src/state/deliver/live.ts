import { LiveOut, type LivePort } from '@/audio/liveOut';
import { askForOutputs, type OutputAnswer } from '@/audio/midiPorts';
import type { MusicNow } from '@/audio/player';
import { LivePart, WIRE } from '@/core/midi';
import { layoutOf, type Song } from '@/core/model';
import { heardBy } from '@/core/tracks';
import { keepLiveSetting, liveSetting } from '@/storage/liveRoutes';
import type { LiveSetting } from '@/storage/liveSetting';
import { simulatedReceiver, type Received } from '@/workers';
import { notify } from '../notices/notices';
import { useWorkbench } from '../store';
import type { ClockGot } from './slice';

export { MAX_OFFSET_MS } from '@/storage/liveRoutes';

/** The output that is always there: an instrument that only notes what comes. */
export const SIMULATED = 'simulated';

/** So many messages are listed; older ones are forgotten. */
const LISTED = 400;

let ports: ReadonlyMap<string, LivePort> = new Map();
let out: LiveOut | undefined;

/** A message with the time it came, in the page's own milliseconds. */
function sentTo(receiver: ReturnType<typeof simulatedReceiver>): LivePort {
  return {
    id: SIMULATED,
    name: 'simulated receiver',
    send: (data, at) => void receiver.send(data, performance.timeOrigin + at),
    clear: () => void receiver.clear(),
  };
}

let receiver: ReturnType<typeof simulatedReceiver> | undefined;
let listening: ReturnType<typeof setInterval> | undefined;

/** The simulated receiver comes to be when something is sent to it first. */
function simulated(): LivePort {
  receiver ??= simulatedReceiver();
  listening ??= setInterval(() => void takeReceived(), 100);
  return sentTo(receiver);
}

async function takeReceived(): Promise<void> {
  const got: readonly Received[] = (await receiver?.take()) ?? [];
  if (got.length === 0) return;
  const pulses = got.filter(isPulse);
  const others = got.filter((one) => !isPulse(one));
  useWorkbench.setState(({ received, clockGot }) => ({
    received: [...received, ...others].slice(-LISTED),
    clockGot: pulses.reduce(counted, clockGot),
  }));
}

const isPulse = ({ data }: Received) => data[0] === WIRE.clock;

/** Pulses of a clock are counted, with the tempo of the last of them; there are too many to be listed. */
function counted({ pulses, last, bpm }: ClockGot, { due }: Received): ClockGot {
  const passed = last === undefined ? 0 : due - last;
  const now = passed > 0 && passed < 1000 ? 60_000 / (24 * passed) : bpm;
  return { pulses: pulses + 1, last: due, bpm: now };
}

export function forgetReceived(): void {
  useWorkbench.setState({ received: [], clockGot: { pulses: 0 } });
}

function takePorts(found: readonly LivePort[]): void {
  const needed = Object.values(useWorkbench.getState().live.routes).some(
    ({ output }) => output === SIMULATED,
  );
  const own = needed || ports.has(SIMULATED) ? [ports.get(SIMULATED) ?? simulated()] : [];
  const real = found.filter(({ id }) => id !== SIMULATED);
  ports = new Map([...real, ...own].map((port) => [port.id, port]));
  useWorkbench.setState({ liveOutputs: real.map(({ id, name }) => ({ id, name })) });
}

const ANSWERS: Readonly<Record<Exclude<OutputAnswer, 'there'>, string>> = {
  none: 'The browser sees no MIDI output. Plug one in: it will be listed.',
  unable: 'This browser cannot send MIDI. The simulated receiver shows what would be sent.',
  refused: 'The browser was not allowed to use MIDI. Allow it beside the address of the page.',
};

/** Asks the browser for MIDI outputs, and says what came of it. */
export async function findOutputs(): Promise<void> {
  const answer = await askForOutputs(takePorts);
  if (answer !== 'there') notify(ANSWERS[answer], answer === 'none' ? 'info' : 'error');
}

/** Reads what was set on this machine before. */
export async function readLive(): Promise<void> {
  const live = await liveSetting().catch(() => undefined);
  if (!live) return;
  setLive(live);
  const real = Object.values(live.routes).some(({ output }) => output !== SIMULATED);
  if (real) await askForOutputs(takePorts);
}

function setLive(live: LiveSetting): void {
  useWorkbench.setState({ live });
  takePorts([...ports.values()]);
}

function change(live: LiveSetting): void {
  setLive(live);
  void keepLiveSetting(live).catch(() => {});
}

/** Sends a track to an output while it plays; no output is silence. */
export function routeTrack(
  track: string,
  change_: { output?: string; channel?: number; offset?: number },
): void {
  const { live } = useWorkbench.getState();
  const before = live.routes[track] ?? { output: '', offset: 0 };
  const route = { ...before, ...change_ };
  if (route.channel === undefined) delete route.channel;
  const { [track]: _, ...others } = live.routes;
  change({ ...live, routes: route.output ? { ...others, [track]: route } : others });
}

/** Sends all tracks of the layout in use to an output; no output is silence. */
export function routeAll(song: Song, output: string): void {
  for (const { id } of layoutOf(song).tracks) routeTrack(id, { output });
}

/** Sends an output start, stop and clock, or does not. */
export function toggleClock(output: string): void {
  const { live } = useWorkbench.getState();
  const there = live.clocks.includes(output);
  const clocks = there ? live.clocks.filter((one) => one !== output) : [...live.clocks, output];
  change({ ...live, clocks });
}

/** What is sent was compiled of these. */
let compiled: { song: Song; live: LiveSetting } | undefined;

/** Told where the music is: sends what is due next. */
export function followMusic(now: MusicNow): void {
  const { live } = useWorkbench.getState();
  const used = Object.keys(live.routes).length > 0 || live.clocks.length > 0;
  if (!used && !out) return;
  out ??= new LiveOut(() => ports);
  const { song } = now;
  if (song && (compiled?.song !== song || compiled.live !== live)) {
    compiled = { song, live };
    out.take(used ? new LivePart(song, live.routes, live.clocks, heardBy(song)) : undefined);
  }
  out.follow(now);
}
