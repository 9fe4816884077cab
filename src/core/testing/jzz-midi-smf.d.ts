/** A reader of Standard MIDI Files that tests hold ours against. It brings no types. */
declare module 'jzz-midi-smf' {
  /** A message at its tick: its bytes by their indexes. */
  type Message = Iterable<number> & { tt: number };

  export interface SmfFile extends Iterable<Iterable<Message>> {
    type: number;
    ppqn: number;
  }

  /** Gives JZZ its class of files. */
  export default function withFiles(jzz: object): void;
}
