/** Colours of one scheme. All text pairs meet WCAG AA: checked by tokens.test.ts. */
export interface Tokens {
  ground: string;
  panel: string;
  paper: string;
  /** A paper under every second beat. */
  paperShade: string;
  line: string;
  fineLine: string;
  ink: string;
  softInk: string;
  accent: string;
  onAccent: string;
  /** The twelve dyes, in the order of a pattern's `dye`. */
  dyes: readonly string[];
}

export type Scheme = 'light' | 'dark';

/** Dye names in order; a pattern keeps its dye wherever it goes. */
export const DYE_NAMES = [
  'woad',
  'madder',
  'weld',
  'moss',
  'logwood',
  'walnut',
  'slate',
  'saffron',
  'rose',
  'lichen',
  'sorrel',
  'sloe',
] as const;

export const TOKENS: Record<Scheme, Tokens> = {
  light: {
    ground: '#EFE8DA',
    panel: '#F5F0E5',
    paper: '#FBF8F1',
    paperShade: '#F5F0E6',
    line: '#CFC5B1',
    fineLine: '#E4DCCB',
    ink: '#23252E',
    softInk: '#5F5C54',
    accent: '#A93F29',
    onAccent: '#FFFFFF',
    dyes: [
      '#3F6F8E',
      '#A8433F',
      '#A07C12',
      '#62733A',
      '#6B4263',
      '#7A5236',
      '#5D6874',
      '#C06A1C',
      '#B5577F',
      '#2F8074',
      '#8A2F2A',
      '#3E4A87',
    ],
  },
  dark: {
    ground: '#171B2E',
    panel: '#1B2034',
    paper: '#1E2339',
    paperShade: '#1A1F34',
    line: '#343B58',
    fineLine: '#272D47',
    ink: '#ECE6D8',
    softInk: '#A7A9B8',
    accent: '#E0A83C',
    onAccent: '#171B2E',
    dyes: [
      '#7FAECB',
      '#D0665F',
      '#D8B84A',
      '#9BAF66',
      '#B483AC',
      '#B98D6B',
      '#9AA6B4',
      '#E59B4F',
      '#E08FB2',
      '#62B8A8',
      '#E5867A',
      '#8E9CE0',
    ],
  },
};
