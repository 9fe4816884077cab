import type { LivePort } from './liveOut';

/** What came of asking the browser for MIDI outputs. */
export type OutputAnswer = 'there' | 'none' | 'unable' | 'refused';

/**
 * Asks the browser for its MIDI outputs.
 * @param onPorts told which there are, now and whenever one comes or goes
 */
export async function askForOutputs(
  onPorts: (ports: readonly LivePort[]) => void,
): Promise<OutputAnswer> {
  if (typeof navigator === 'undefined' || !navigator.requestMIDIAccess) return 'unable';
  try {
    const access = await navigator.requestMIDIAccess();
    const list = () => {
      const ports = [...access.outputs.values()].map((output): LivePort => ({
        id: output.id,
        name: output.name ?? 'a MIDI output',
        send: (data, at) => output.send([...data], Math.max(0, at)),
        // Not every browser has it. Source: W3C, "Web MIDI API", MIDIOutput.clear().
        ...('clear' in output && {
          clear: () => (output as MIDIOutput & { clear(): void }).clear(),
        }),
      }));
      onPorts(ports);
      return ports.length;
    };
    access.onstatechange = list;
    return list() === 0 ? 'none' : 'there';
  } catch {
    return 'refused';
  }
}
