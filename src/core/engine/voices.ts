import { SOUND_COUNT, type SoundId } from '../model';
import type { KitSound, Zone } from '../sound';
import type { Hertz, Samples, Seconds, Velocity } from '../time';
import { alternateOf, edgeStray, levelStray } from './stray';
import { Voice } from './voice';

const VOICES = 96;

/** A choked cymbal is silent within this time. */
const CHOKE: Seconds = 0.012;

/** A cymbal or drum that is struck again and again rings on from so many strokes at most. */
const RINGS = 5;

/** What a sixth stroke takes the place of fades under it within this time. */
const OVERLAID: Seconds = 0.04;

/** All strokes that can sound at once, and the sounds they are made of. */
export class Voices {
  readonly all = Array.from({ length: VOICES }, () => new Voice());
  private readonly sounds: (KitSound | undefined)[] = new Array<KitSound | undefined>(SOUND_COUNT);

  constructor(private readonly sampleRate: Hertz) {}

  /** Gives the strokes of a note their sound; until then the note is silent. */
  load(sound: KitSound): void {
    this.sounds[sound.note] = sound;
  }

  /**
   * Starts a stroke in frame `wait` of the coming block. It cuts off what is of its group, and the
   * oldest of its own where too many ring.
   * @param stroke which stroke of its sound it is: that decides its alternate, and how it strays
   * @returns the voice, or nothing where the note has no sound
   */
  start(
    note: SoundId,
    stroke: number,
    velocity: Velocity,
    choke: number,
    lane: number,
    wait: Samples,
  ): Voice | undefined {
    const sound = this.sounds[note];
    if (!sound) return undefined;
    const struck = sound.response?.[velocity] ?? velocity;
    const { alternates } = zoneOf(sound, struck);
    const voice = this.freeVoice(note, choke, wait);
    voice.start(
      alternates[alternateOf(stroke, alternates.length)],
      struck,
      this.sampleRate,
      wait,
      sound.varied ? levelStray(note, stroke) : 1,
      sound.varied ? edgeStray(note, stroke) : 1,
    );
    voice.note = note;
    voice.choke = choke;
    voice.lane = lane;
    return voice;
  }

  private freeVoice(note: SoundId, choke: number, wait: Samples): Voice {
    let free: Voice | undefined;
    let oldest = this.all[0];
    let oldestOfSound: Voice | undefined;
    let rings = 0;
    for (const voice of this.all) {
      if (!voice.active) {
        free ??= voice;
        continue;
      }
      if (choke !== 0 && voice.choke === choke) voice.cut(wait, CHOKE * this.sampleRate);
      else if (voice.note === note && !voice.isCut) {
        rings++;
        if (!oldestOfSound || voice.age > oldestOfSound.age) oldestOfSound = voice;
      }
      if (voice.age > oldest.age) oldest = voice;
    }
    if (rings >= RINGS) oldestOfSound?.cut(wait, OVERLAID * this.sampleRate);
    return free ?? oldest;
  }

  /** Ends what sounds, quickly. */
  hush(): void {
    for (const voice of this.all) if (voice.active) voice.cut(0, CHOKE * this.sampleRate);
  }

  get isSounding(): boolean {
    return this.all.some((voice) => voice.active);
  }
}

function zoneOf({ zones }: KitSound, velocity: Velocity): Zone {
  for (const zone of zones) {
    if (velocity < zone.velocities[1] + 1) return zone;
  }
  return zones[zones.length - 1];
}
