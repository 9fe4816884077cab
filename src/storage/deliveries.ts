import * as yup from 'yup';
import {
  BITRATES,
  CHART_FORMS,
  DEPTHS,
  EACH,
  ENDINGS,
  HANDED,
  LENGTHS,
  LEVELS,
  MAX_PPQ,
  MIN_PPQ,
  PACKINGS,
  RATES,
  SOUND_KINDS,
  TEXT_FORMS,
  TRACKINGS,
  USUAL_DELIVERY,
  type Delivery,
} from '@/core/deliver';
import { DENSITIES, PAPERS, PERCUSSIONS, type Paper } from '@/core/notation';
import { db, type LoomDb } from './db';
import { isNamed } from './rows';

const id = yup.string().max(200);
const oneOf = <T extends string | number>(values: readonly T[]) =>
  yup
    .mixed<T>()
    .oneOf([...values])
    .required();
const yes = yup.boolean().required();
const text = yup.string().max(2000).defined();
const number = (min: number, max: number) => yup.number().min(min).max(max).required();

/** What a delivery may be: whatever came from storage or elsewhere is held against it. */
const DELIVERY = yup
  .object({
    handed: oneOf(HANDED),
    what: yup
      .object({
        each: yup.mixed<(typeof EACH)[number]>().oneOf([...EACH, undefined]),
        place: id,
        places: yup.array(id.required()).max(2000),
        pattern: id,
        passes: yup.number().integer().min(1).max(512),
      })
      .noUnknown(),
    names: yup.string().max(200).defined(),
    packing: oneOf(PACKINGS),
    midi: yup
      .object({
        tracks: oneOf(TRACKINGS),
        ppq: number(MIN_PPQ, MAX_PPQ).integer().optional(),
        apart: yes,
        guides: yes,
        mutes: yes,
        lengths: oneOf(LENGTHS),
        fixed: number(1, 15_360),
        glideStep: number(1, 15_360),
        copyright: text,
        text,
        byTrack: yup.lazy((value: unknown) =>
          yup.object(
            Object.fromEntries(
              Object.keys((value as object | undefined) ?? {}).map((track) => [
                track,
                yup
                  .object({
                    channel: yup.number().integer().min(0).max(15),
                    map: yup.string().max(200),
                  })
                  .noUnknown(),
              ]),
            ),
          ),
        ),
      })
      .noUnknown(),
    audio: yup
      .object({
        mix: yes,
        stems: yes,
        effects: yes,
        bus: yes,
        addUp: yes,
        mutes: yes,
        guides: yes,
        click: yes,
        ending: oneOf(ENDINGS),
        level: oneOf(LEVELS),
        peak: number(-24, 0),
        loudness: number(-40, 0),
      })
      .noUnknown(),
    sound: yup
      .object({
        kind: oneOf(SOUND_KINDS),
        depth: oneOf(DEPTHS),
        rate: oneOf(RATES),
        bitrate: oneOf(BITRATES),
      })
      .noUnknown(),
    chart: yup
      .object({
        density: oneOf(DENSITIES),
        paper: oneOf(Object.keys(PAPERS) as Paper[]),
        percussion: oneOf(PERCUSSIONS),
        form: oneOf(CHART_FORMS),
      })
      .noUnknown(),
    text: oneOf(TEXT_FORMS),
  })
  .noUnknown()
  .required();

/** A delivery of an older version with the usual values of choices that it had not. */
function withNewer(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const { sound, audio, midi, chart } = value as Readonly<Record<string, unknown>>;
  const isObject = (one: unknown) => typeof one === 'object' && one !== null;
  return {
    ...value,
    ...(isObject(sound) && { sound: { ...USUAL_DELIVERY.sound, ...(sound as object) } }),
    ...(isObject(midi) && { midi: { apart: USUAL_DELIVERY.midi.apart, ...(midi as object) } }),
    ...(isObject(audio) && {
      audio: { addUp: USUAL_DELIVERY.audio.addUp, ...(audio as object) },
    }),
    ...(isObject(chart) && {
      chart: { percussion: USUAL_DELIVERY.chart.percussion, ...(chart as object) },
    }),
  };
}

/** A value as a delivery; undefined where it is none. */
export function readDelivery(value: unknown): Delivery | undefined {
  const whole = withNewer(value);
  return DELIVERY.isValidSync(whole, { strict: true }) ? (whole as Delivery) : undefined;
}

/** A delivery that was kept by name. */
export interface KeptDelivery {
  name: string;
  delivery: Delivery;
}

/** The deliveries that were kept, by name; one that this version cannot write is not listed. */
export async function keptDeliveries(at: LoomDb = db()): Promise<KeptDelivery[]> {
  const all = (await at.deliveries.toArray()).filter(isNamed);
  return all
    .flatMap(({ name, delivery }) => {
      const read = readDelivery(delivery);
      return read ? [{ name, delivery: read }] : [];
    })
    .sort((a, b) => a.name.localeCompare(b.name));
}

export async function keepDelivery(kept: KeptDelivery, at: LoomDb = db()): Promise<void> {
  await at.deliveries.put(kept);
}

export async function forgetDelivery(name: string, at: LoomDb = db()): Promise<void> {
  await at.deliveries.delete(name);
}

const LAST = 'last delivery';

/** The delivery that was handed over last; undefined when none was. */
export async function lastDelivery(at: LoomDb = db()): Promise<Delivery | undefined> {
  return readDelivery((await at.settings.get(LAST))?.value);
}

export async function noteDelivery(delivery: Delivery, at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: LAST, value: delivery });
}
