import { HIT_LIMITS, isHit, MAX_TICKS, type Song } from '../model';
import {
  copyHits,
  duplicateHits,
  freeIds,
  moveHits,
  paint,
  PASTE_MODES,
  pasteClip,
  placeHits,
  removeHits,
  type StrandHit,
} from '../pattern';
import { onHits, onPattern } from './definition';
import { choice, id, list, number, optional, part, record, text } from './value';

const strandHit = part<StrandHit>('hit', (value, song: Song) => {
  const { piece, hit } = value as Partial<StrandHit>;
  return typeof piece === 'string' && isHit(hit, piece, song.kit);
});

const shift = {
  by: number([-MAX_TICKS, MAX_TICKS]),
  rows: optional(number([-1000, 1000], { whole: true })),
  order: optional(list(id('piece'), 1000)),
};

/** Writing hits, and moving them about. */
export const HITS = {
  'place hits': onPattern(
    { hits: list(strandHit) },
    (pattern, { hits }, { kit }) => {
      const free = freeIds(pattern);
      const named = hits.map(({ piece, hit }) => ({ piece, hit: { ...hit, id: free(hit.id) } }));
      return placeHits(pattern, named, kit);
    },
    'write',
    'There is no such step in the pattern.',
  ),
  paint: onPattern(
    {
      piece: id('piece'),
      points: list(
        record({ at: number([0, MAX_TICKS]), velocity: number(HIT_LIMITS.velocity) }),
        20_000,
      ),
      every: number([1, 1024], { whole: true }),
      articulation: text(200),
      seed: id('new'),
    },
    (pattern, painting, { kit }) =>
      painting.points.length > 0 ? paint(pattern, painting, kit) : pattern,
    'write',
  ),
  'remove hits': onHits({}, (pattern, ids) => removeHits(pattern, ids), 'delete'),
  'move hits': onHits(
    shift,
    (pattern, ids, told, { kit }) => moveHits(pattern, ids, told, kit),
    'later',
    () => 'There is no room to move the chosen hits there.',
  ),
  'copy hits': onHits(
    { ...shift, seed: id('new') },
    (pattern, ids, { seed, ...told }, { kit }) => {
      const free = freeIds(pattern);
      return copyHits(pattern, ids, told, (hit) => free(`${seed}-${hit}`), kit);
    },
    'duplicate',
    () => 'There is no room for a copy of the chosen hits there.',
  ),
  'duplicate hits': onHits(
    { seed: id('new') },
    (pattern, ids, { seed }, { kit }) => duplicateHits(pattern, ids, seed, kit),
    'duplicate',
    () => 'There is no room after the selection. Make the pattern longer first.',
  ),
  paste: onPattern(
    {
      hits: list(strandHit),
      length: number([0, MAX_TICKS]),
      at: number([0, MAX_TICKS]),
      mode: choice(PASTE_MODES),
      seed: id('new'),
      onto: optional(id('piece')),
    },
    (pattern, { hits, length, at, mode, seed, onto }, { kit }) =>
      hits.length === 0
        ? 'The clip has no hits on these rows.'
        : pasteClip(pattern, { hits: [...hits], length }, at, { mode, seed, onto }, kit),
    'paste',
    'Nothing was pasted: there is no room after the cursor.',
  ),
};
