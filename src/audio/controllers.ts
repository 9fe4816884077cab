/** What came of asking the browser for MIDI controllers. */
export type ControllerAnswer = 'listening' | 'none' | 'unable' | 'refused';

export interface ControllerEvents {
  /** A note was struck. @param when the time of the event, as the page counts it */
  onStrike(note: number, velocity: number, when: number): void;
  /** A note that was struck ends. */
  onRelease(note: number): void;
  /** The controllers that are connected now. */
  onNames(names: readonly string[]): void;
}

/** Listens to every MIDI controller there is, and to those that are plugged in later. */
export async function listenToControllers(events: ControllerEvents): Promise<ControllerAnswer> {
  if (typeof navigator === 'undefined' || !navigator.requestMIDIAccess) return 'unable';
  try {
    const access = await navigator.requestMIDIAccess();
    const listen = () => {
      const inputs = [...access.inputs.values()];
      for (const input of inputs) input.onmidimessage = (message) => strike(message, events);
      events.onNames(inputs.map((input) => input.name ?? 'a controller'));
      return inputs.length;
    };
    access.onstatechange = listen;
    return listen() === 0 ? 'none' : 'listening';
  } catch {
    return 'refused';
  }
}

/** Note on, status 0x90 to 0x9f; note off, 0x80 to 0x8f, or a note on whose velocity is 0. */
function strike({ data, timeStamp }: MIDIMessageEvent, events: ControllerEvents): void {
  const kind = data ? data[0] & 0xf0 : 0;
  if (!data || (kind !== 0x90 && kind !== 0x80)) return;
  if (kind === 0x80 || !data[2]) return events.onRelease(data[1] & 0x7f);
  events.onStrike(data[1] & 0x7f, data[2], timeStamp || performance.now());
}
