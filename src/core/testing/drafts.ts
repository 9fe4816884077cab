import { draftSong, proposedEnergy, setEnergy } from '../draft';
import { songWith, USUAL_WISHES, type DraftWishes, type Song } from '../model';
import { barLinesOf, laidPlaces, layForm, readForm, wovenOf } from '../weave';
import { shippedFamilies } from './shipped';

/** The shipped grooves, as a draft takes them. */
export const shippedLibrary = { families: shippedFamilies() };

/** A form with all that a popular song has. */
export const SONG_FORM =
  'intro 4, verse 8, chorus 8, verse 8, chorus 8, bridge 8, verse 8, chorus 8, outro 4';

/** The same form in another meter. */
export const formIn = (meter: string, form = SONG_FORM) =>
  form
    .split(', ')
    .map((part) => `${part} ${meter}`)
    .join(', ');

/** A song of a form and nothing else. */
export function formed(text: string, wishes: Partial<DraftWishes> = {}, bpm = 110): Song {
  const { parts, problems } = readForm(text);
  if (problems.length > 0) throw new Error(`A form that cannot be read: ${text}`);
  const song = layForm(songWith({ id: 'song', name: 'Song', bpm }), parts).song;
  return { ...song, draft: { ...USUAL_WISHES, ...wishes } };
}

/** The line that the form proposes, drawn. */
export const proposed = (song: Song) => setEnergy(song, proposedEnergy(song));

/** One height all through the song. */
export const levelled = (song: Song, level: number) =>
  setEnergy(
    song,
    song.places.map(({ id }) => ({ place: id, points: [{ at: 0, level }] })),
  );

export const drafted = (song: Song) => draftSong(song, shippedLibrary).song;

/** The hits of each bar of each place, note for note, without their names. @param is which pieces are looked at */
export function heardBars(song: Song, is: (piece: string) => boolean = () => true): string[][] {
  return laidPlaces(song).map((laid) => {
    const lines = barLinesOf(laid.section);
    return lines.slice(0, -1).map((from, bar) => {
      const { pattern } = wovenOf(song, laid, { from, to: lines[bar + 1] }, 'place');
      return pattern.strands
        .flatMap(({ piece, hits }) =>
          is(piece) ? hits.map(({ id: _, ...hit }) => JSON.stringify([piece, hit])) : [],
        )
        .sort()
        .join('\n');
    });
  });
}
