import Dexie, { type Table } from 'dexie';
import type { Pattern, Song } from '@/core';
import {
  upgradeSong,
  type Difference,
  type Kit,
  type SongView,
  type StripSetting,
} from '@/core/model';
import type { NoteMapChoice } from '@/core/midi';
import type { Groove } from '@/core/library';
import { tellChanges } from './mirror/changes';
import { grooveIdNow } from './upgrades/grooveIds';

/** What the list of songs shows of a song, without reading the song. */
export interface SongHead {
  id: string;
  name: string;
  bpm: number;
  bars: number;
  patterns: number;
  /** Milliseconds since 1970. */
  changed: number;
  demo: boolean;
  /** How many changes are in it, and which tab wrote it; absent before versions counted. */
  n?: number;
  by?: string;
}

/** A change that was made to a song and may not be in its stored form yet. */
export interface NotedChange {
  song: string;
  /** It makes the song with `n - 1` changes one with `n`. */
  n: number;
  difference: Difference;
}

/** A song that was deleted, until the bin is emptied. */
export interface BinnedSong {
  id: string;
  head: SongHead;
  body: SongBody;
  shown?: ShownSong;
  /** Milliseconds since 1970. */
  deleted: number;
}

/** A stored song. `song` is checked when it is read: it may come from another version. */
export interface SongBody {
  id: string;
  song: Song;
}

/** How the patterns of a song are shown. It is no part of the song: changing it is no change of it. */
export interface ShownSong {
  id: string;
  view: SongView;
}

/** A song as it was stored before parts of it that were not sound were left out. */
export interface DamagedSong {
  id: string;
  /** Whatever was there. */
  song: unknown;
}

/** The bytes of a groove file, as they were read. */
export interface GrooveFile {
  id: string;
  path: string;
  bytes: Uint8Array;
}

/** What became of a file that was looked into. Reading its folder again skips it while it is the same. */
export interface SourceFile {
  path: string;
  size: number;
  /** Milliseconds since 1970. */
  modified: number;
  /** The groove it holds; for a duplicate the one that was there before. */
  groove?: string;
  /** Why it is not listed by itself. */
  reason?: string;
  /** It has notes, none of which are known to be drums: its bytes are kept, so that these can be chosen. */
  undrummed?: true;
}

/** What the user noted about a groove of any library, shipped ones too. */
export interface GrooveRemark {
  id: string;
  stars?: number;
  note?: string;
  name?: string;
  kind?: Groove['kind'];
}

/** A pattern of a song that was put into the library, with all that its hits hold. */
export interface OwnPattern {
  /** The id of its row: `own/pattern/…`. */
  id: string;
  pattern: Pattern;
}

/** The note map that the files of a folder are read through, where the user chose one. */
export interface FamilyNoteMap extends NoteMapChoice {
  family: string;
}

/** A reading of files that has not come to its end. */
export interface ReadingJob {
  id: string;
  name: string;
  total: number;
  /** The folder itself, where the browser can keep it. */
  folder?: FileSystemDirectoryHandle;
}

/** A whole copy of a song, made by hand, once an hour of work, or before anything large. */
export interface SavePoint {
  id: string;
  /** The id of its song. */
  song: string;
  name: string;
  note: string;
  why: 'by hand' | 'an hour of work' | 'before something large';
  /** Milliseconds since 1970. */
  made: number;
  body: Song;
}

/** One step of undo of a song. */
export interface UndoStep {
  song: string;
  /** How many steps there are with it. */
  depth: number;
  label: string;
  /** From the song after it to the one before it, and the other way. */
  back: Difference;
  forth: Difference;
}

/** A decoded sound file, which songs share. */
export interface StoredSample {
  /** What it is known by; of files that were read long ago, SHA-256 of their bytes. */
  hash: string;
  name: string;
  /** At 48 kHz; the right side is absent where both are the same. */
  left: Float32Array;
  right?: Float32Array;
}

/** A kit that was kept, for other songs. */
export interface KeptKit {
  id: string;
  name: string;
  kit: Kit;
}

/** How a track was mixed, or what all drums went through, kept by name. */
export interface Preset {
  id: string;
  name: string;
  /** What of it is for all drums is its tone, dynamics and drive. */
  strip: StripSetting;
}

/** Where in its steps of undo a song is. */
export interface UndoState {
  song: string;
  depth: number;
  /** Changes in the song that this is true of. */
  n: number;
}

/** The browser's own database. Each version of its tables is declared below and never changed. */
export class LoomDb extends Dexie {
  heads!: Table<SongHead, string>;
  bodies!: Table<SongBody, string>;
  grooves!: Table<Groove, string>;
  grooveFiles!: Table<GrooveFile, string>;
  sources!: Table<SourceFile, string>;
  remarks!: Table<GrooveRemark, string>;
  noteMaps!: Table<FamilyNoteMap, string>;
  jobs!: Table<ReadingJob, string>;
  views!: Table<ShownSong, string>;
  damaged!: Table<DamagedSong, string>;
  journal!: Table<NotedChange, [string, number]>;
  bin!: Table<BinnedSong, string>;
  settings!: Table<{ name: string; value: unknown }, string>;
  ownPatterns!: Table<OwnPattern, string>;
  savePoints!: Table<SavePoint, string>;
  undoSteps!: Table<UndoStep, [string, number]>;
  undoStates!: Table<UndoState, string>;
  samples!: Table<StoredSample, string>;
  kits!: Table<KeptKit, string>;
  presets!: Table<Preset, string>;
  /** What was kept by name; it is read by `readDelivery`. */
  deliveries!: Table<{ name: string; delivery: unknown }, string>;

  constructor(name = 'verse-loom') {
    // Handed to the machine and not waited for until the disk has it: that survives a killed browser, and
    // a flood of changes is written as fast as it comes.
    super(name, { chromeTransactionDurability: 'relaxed' });
    tellChanges(this);
    this.version(1).stores({ heads: 'id, changed', bodies: 'id' });
    this.version(2).stores({
      grooves: 'id',
      grooveFiles: 'id',
      sources: 'path',
      remarks: 'id',
      noteMaps: 'family',
      jobs: 'id',
    });
    // Songs of form 4: how rows are shown leaves the song.
    this.version(3)
      .stores({ views: 'id', damaged: 'id' })
      .upgrade(async (transaction) => {
        const views: ShownSong[] = [];
        await transaction
          .table<SongBody>('bodies')
          .toCollection()
          .modify((body) => {
            const { song, view } = upgradeSong(body.song);
            body.song = song as Song;
            if (view && Object.keys(view).length > 0) views.push({ id: body.id, view });
          });
        await transaction.table<ShownSong>('views').bulkPut(views);
      });
    this.version(4).stores({ journal: '[song+n]', bin: 'id, deleted', settings: 'name' });
    // Shipped grooves are found by name: stars and notes go along.
    this.version(5)
      .stores({ ownPatterns: 'id' })
      .upgrade(async (transaction) => {
        const remarks = transaction.table<GrooveRemark>('remarks');
        for (const remark of await remarks.toArray()) {
          const id = grooveIdNow(remark.id);
          if (id === remark.id) continue;
          await remarks.delete(remark.id);
          await remarks.put({ ...remark, id });
        }
      });
    this.version(6).stores({
      savePoints: 'id, song',
      undoSteps: '[song+depth]',
      undoStates: 'song',
    });
    this.version(7).stores({ samples: 'hash' });
    this.version(8).stores({ kits: 'id', presets: 'id' });
    this.version(9).stores({ deliveries: 'name' });
  }
}

let shared: LoomDb | undefined;

export function db(): LoomDb {
  return (shared ??= new LoomDb());
}
