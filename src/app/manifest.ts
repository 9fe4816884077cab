import type { MetadataRoute } from 'next';
import { TOKENS } from '@/look/tokens';

/** What a browser needs to know to install the workbench as an application. */
export default function manifest(): MetadataRoute.Manifest {
  return {
    id: '/',
    name: 'Verse Loom',
    short_name: 'Verse Loom',
    description: 'A workbench for people who write drums as MIDI',
    start_url: '/',
    scope: '/',
    display: 'standalone',
    background_color: TOKENS.light.paper,
    theme_color: TOKENS.light.paper,
    file_handlers: [
      {
        action: '/',
        accept: {
          'application/zip': ['.zip'],
          'audio/midi': ['.mid', '.midi'],
          'application/vnd.recordare.musicxml+xml': ['.musicxml'],
          'application/vnd.recordare.musicxml': ['.mxl'],
        },
      },
    ],
    categories: ['music', 'productivity'],
    icons: [
      { src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' },
      { src: '/icons/192.png', sizes: '192x192', type: 'image/png' },
      { src: '/icons/512.png', sizes: '512x512', type: 'image/png' },
      { src: '/icons/512-maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
    ],
  };
}
