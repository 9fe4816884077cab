/** Reading of WAV files; the package brings no types. */
declare module 'wav-decoder' {
  export interface AudioData {
    sampleRate: number;
    channelData: Float32Array[];
  }
  const decoder: { decode: { sync(bytes: ArrayBuffer): AudioData } };
  export default decoder;
}
