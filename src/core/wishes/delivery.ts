import type { ChartWish } from '../notation';
import { USUAL_AUDIO, type AudioWish } from './audio';
import { USUAL_MIDI, type MidiWish } from './midi';
import { USUAL_NAMES, type What } from './part';
import { USUAL_SOUND, type SoundForm } from './sound';

/** What is handed over. */
export const HANDED = ['midi', 'audio', 'chart', 'text', 'project', 'live'] as const;
export type Handed = (typeof HANDED)[number];

/** What a page of notes is handed over as: pictures, or a score that other programs read. */
export const CHART_FORMS = ['pages', 'musicxml'] as const;
export type ChartForm = (typeof CHART_FORMS)[number];

/** Text: drum tablature, or a table of all hits. */
export const TEXT_FORMS = ['tab', 'csv'] as const;
export type TextForm = (typeof TEXT_FORMS)[number];

/** Several files by themselves, in one zip, or into a folder that is chosen. */
export const PACKINGS = ['zip', 'apart', 'folder'] as const;
export type Packing = (typeof PACKINGS)[number];

/** A whole delivery: what goes out, how it is written, and how it is packed. */
export interface Delivery {
  handed: Handed;
  what: What;
  names: string;
  packing: Packing;
  midi: MidiWish;
  audio: AudioWish;
  sound: SoundForm;
  chart: ChartWish & { form: ChartForm };
  text: TextForm;
}

export const USUAL_DELIVERY: Delivery = {
  handed: 'midi',
  what: {},
  names: USUAL_NAMES,
  packing: 'zip',
  midi: USUAL_MIDI,
  audio: USUAL_AUDIO,
  sound: USUAL_SOUND,
  chart: { density: 'full', paper: 'A4', percussion: 'line', form: 'pages' },
  text: 'tab',
};

/** Deliveries that are often asked for, by their names. */
export const READY_DELIVERIES: Readonly<Record<string, Delivery>> = {
  'to a session, one track a piece': {
    ...USUAL_DELIVERY,
    midi: { ...USUAL_MIDI, tracks: 'pieces' },
  },
  'each section as a MIDI file': {
    ...USUAL_DELIVERY,
    what: { each: 'sections' },
    names: '{song}/{nn} {part}',
  },
  'stems for a mix': {
    ...USUAL_DELIVERY,
    handed: 'audio',
    audio: { ...USUAL_AUDIO, stems: true, addUp: true },
  },
  'a loop to build on': {
    ...USUAL_DELIVERY,
    handed: 'audio',
    what: { each: 'sections' },
    audio: { ...USUAL_AUDIO, ending: 'loop' },
  },
  'a chart for the drummer': { ...USUAL_DELIVERY, handed: 'chart' },
};
