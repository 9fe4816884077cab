import { infoBytes, MP3_DELAY, MP3_FRAME } from '../wishes';
import type { Hertz, Samples } from '../time';

const KILOBITS = [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];
const MP3_RATES: readonly Hertz[] = [44_100, 48_000, 32_000];

/** Facts about an MP3 file that are known once all of it is there. */
export interface Mp3About {
  rate: Hertz;
  kilobits: number;
  samples: Samples;
  /** Frames of sound, and their bytes. */
  frames: number;
  bytes: number;
}

/**
 * The frame before the first frame of sound: how many frames there are, where in the file each hundredth of it is,
 * and how many samples are silence of the encoder, before the first and after the last, so that a reader leaves
 * them out. Source: G. Bouvigne et al., "Mp3 Info Tag, rev. 1", with the checksum that it asks for.
 */
export function mp3Info({ rate, kilobits, samples, frames, bytes }: Mp3About): Uint8Array {
  const info = new Uint8Array(infoBytes(rate, kilobits));
  const view = new DataView(info.buffer);
  const text = (at: number, said: string) => info.set(new TextEncoder().encode(said), at);
  // MPEG-1, layer III, no checksum; two sides.
  info.set([0xff, 0xfb, (KILOBITS.indexOf(kilobits) << 4) | (MP3_RATES.indexOf(rate) << 2), 0x00]);
  const XING = 36;
  text(XING, 'Info');
  // Frames, bytes, and the table are there.
  view.setUint32(XING + 4, 7);
  view.setUint32(XING + 8, frames);
  view.setUint32(XING + 12, info.length + bytes);
  for (let i = 0; i < 100; i++) info[XING + 16 + i] = Math.floor((256 * i) / 100);
  const TAG = XING + 116;
  text(TAG, 'LAME3.100');
  // Revision 0, constant bit rate.
  info[TAG + 9] = 1;
  info[TAG + 20] = Math.min(255, kilobits);
  const padding = Math.max(0, frames * MP3_FRAME - MP3_DELAY - samples);
  const both = (MP3_DELAY << 12) | Math.min(0xfff, padding);
  info.set([both >> 16, (both >> 8) & 255, both & 255], TAG + 21);
  view.setUint32(TAG + 28, info.length + bytes);
  view.setUint16(TAG + 34, crc16(info.subarray(0, TAG + 34)));
  return info;
}

/** Source: the checksum of the same description, CRC-16 with the polynomial 0x8005, low bits first. */
function crc16(bytes: Uint8Array): number {
  let crc = 0;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >> 1) ^ 0xa001 : crc >> 1;
  }
  return crc;
}
