'use client';

import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import {
  BITRATES,
  depthsOf,
  ratesOf,
  SOUND_KINDS,
  type AudioWish,
  type Bitrate,
  type Delivery,
  type Ending,
  type Levelling,
  type SoundKind,
} from '@/core/deliver';
import { layoutOf, type Song } from '@/core/model';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import * as wishes from '@/state/deliver/wishes';
import { Check } from './Check';

const KIND_NAMES: Readonly<Record<SoundKind, string>> = {
  wav: 'WAV: uncompressed',
  flac: 'FLAC: lossless',
  mp3: 'MP3: small, lossy',
};

const DEPTH_NAMES = {
  '16': '16 bits, with dither',
  '24': '24 bits, with dither',
  float: '32 bits, floating point',
} as const;

type Switch = {
  [K in keyof AudioWish]: boolean extends AudioWish[K] ? K : never;
}[keyof AudioWish];

/** How sound is written. */
export function AudioChoices({ song, delivery }: { song: Song; delivery: Delivery }) {
  const { audio, sound } = delivery;
  const isExact = audio.stems && audio.addUp;
  const check = (name: Switch, label: string) => (
    <Check
      label={label}
      checked={audio[name]}
      onChange={(checked) => wishes.wishAudio({ [name]: checked })}
    />
  );
  return (
    <>
      <Box>
        {check('mix', 'the mix, in one file')}
        {check('stems', `one file per track (${layoutOf(song).name})`)}
        {audio.stems && (
          <Check
            label="stems that add up to the mix"
            checked={audio.addUp}
            onChange={wishes.wishAddUp}
          />
        )}
        {check('effects', 'with room and echo')}
        {check('bus', isExact ? 'the drum bus, as one more file' : 'through the drum bus')}
        {check('mutes', 'leave out what is muted')}
        {song.guides.length > 0 && check('guides', 'reference parts too')}
        {check('click', 'the click too')}
      </Box>
      {isExact && (
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          Neither mix nor stems go through the drum bus or a limiter; where the mix or a stem would
          be over full scale, all files are turned down alike.
        </Typography>
      )}
      <ChoiceField
        label="ending"
        value={audio.ending}
        options={[
          ['tail', 'rings out after the last bar'],
          ['bar', 'cut with the last bar'],
          ['loop', 'a loop: the tail is mixed into its start'],
        ]}
        onChange={(ending) => wishes.wishAudio({ ending: ending as Ending })}
      />
      <ChoiceField
        label="level"
        value={audio.level}
        options={[
          ['mixed', 'as it is mixed'],
          ['peak', 'normalized to a peak'],
          ['loudness', 'normalized to a loudness'],
        ]}
        onChange={(level) => wishes.wishAudio({ level: level as Levelling })}
      />
      {audio.level === 'peak' && (
        <NumberField
          label="true peak, in dB"
          value={audio.peak}
          min={-24}
          max={0}
          width={180}
          onChange={(peak) => wishes.wishAudio({ peak })}
        />
      )}
      {audio.level === 'loudness' && (
        <NumberField
          label="loudness, in LUFS"
          value={audio.loudness}
          min={-40}
          max={0}
          width={180}
          onChange={(loudness) => wishes.wishAudio({ loudness })}
        />
      )}
      <ChoiceField
        label="as"
        value={sound.kind}
        options={SOUND_KINDS.map((kind) => [kind, KIND_NAMES[kind]])}
        onChange={(kind) => wishes.wishSound({ kind: kind as SoundKind })}
      />
      {sound.kind === 'mp3' ? (
        <ChoiceField
          label="bit rate"
          value={String(sound.bitrate)}
          options={BITRATES.map((rate) => [String(rate), `${rate} kbit/s`])}
          onChange={(rate) => wishes.wishSound({ bitrate: Number(rate) as Bitrate })}
        />
      ) : (
        <ChoiceField
          label="bit depth"
          value={sound.depth}
          options={depthsOf(sound.kind).map((depth) => [depth, DEPTH_NAMES[depth]])}
          onChange={(depth) => wishes.wishSound({ depth: depth as typeof sound.depth })}
        />
      )}
      <ChoiceField
        label="sample rate"
        value={String(sound.rate)}
        options={ratesOf(sound.kind).map((rate) => [String(rate), `${rate / 1000} kHz`])}
        onChange={(rate) => wishes.wishSound({ rate: Number(rate) })}
      />
    </>
  );
}
