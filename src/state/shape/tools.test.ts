import { checkSong, type Hit, type Pattern } from '@/core';
import {
  asks,
  CHOOSING,
  CHOOSING_NAMES,
  COMMAND_NAMES,
  COMMANDS,
  type Field,
  type Menu,
} from '@/core/commands';
import { demoSongs } from '@/demo';
import { redo, undo } from '../session/edit';
import * as shape from './shape';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { chooseRow } from './testing';
import * as toolbox from './toolbox';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [song] = demoSongs();
const chorus = song.patterns.find(({ name }) => name.startsWith('Chorus'))!;

beforeEach(() => {
  openBench(song, { patternId: chorus.id, cursor: { piece: 'snare', at: 0 } });
});

const shown = () => openSongNow().patterns.find(({ id }) => id === chorus.id)!;
const all = (pattern: Pattern) => pattern.strands.flatMap(({ hits }) => hits);
const open = () => useWorkbench.getState().tool;
const fields = () => toolbox.toolShown(open()!)!.fields;

const OFFERED = COMMAND_NAMES.filter((name) => COMMANDS[name].offer);
const WITH_PANEL = [
  ...OFFERED.filter((name) => asks(COMMANDS[name].values)),
  ...CHOOSING_NAMES.filter((name) => asks(CHOOSING[name].values)),
];

/** What of each hit may not change, by its id; hits that were written or removed are left out. */
const kept = (before: Pattern, after: Pattern, of: (hit: Hit) => unknown) => {
  const now = new Map(all(after).map((hit) => [hit.id, hit]));
  return all(before).flatMap((hit) => {
    const other = now.get(hit.id);
    return other ? [[of(hit), of(other)]] : [];
  });
};

/** A value of a field that is not the one it opens with, within what the field allows. */
function otherValue(field: Field) {
  switch (field.kind) {
    case 'number': {
      const { value, limits, step } = field;
      const more = Math.min(limits[1], value + step * 3);
      return more === value ? Math.max(limits[0], value - step * 3) : more;
    }
    case 'choice':
      return field.options.at(-1)?.[0] ?? field.value;
    case 'seed':
      return field.value + 1;
    default:
      return undefined;
  }
}

describe.each(WITH_PANEL)('the panel of “%s”', (name) => {
  test('opens with values it would take itself', () => {
    chooseRow('snare');
    toolbox.runOffered(name);
    const { problems } = toolbox.toolShown(open()!)!;
    for (const field of fields()) {
      if (field.kind === 'number') {
        const [low, high] = field.limits;
        const fits = field.value >= low && field.value <= high;
        expect([field.name, fits]).toEqual([field.name, true]);
      } else if (field.kind === 'choice' && field.options.length > 0) {
        expect(field.options.map(([value]) => value)).toContain(field.value);
      } else if (field.kind === 'text') expect(problems[field.name]).toBeUndefined();
    }
  });

  test('leaves a sound song at any value; dropped nothing has changed, kept it is one step', () => {
    chooseRow('snare');
    const before = openSongNow();
    toolbox.runOffered(name);
    expect(open()?.name).toBe(name);
    expect(checkSong(openSongNow())).toEqual([]);
    for (const field of fields()) {
      const value = otherValue(field);
      if (value === undefined) continue;
      toolbox.setToolValue(field.name, value);
      expect(checkSong(openSongNow())).toEqual([]);
    }
    toolbox.dropTool();
    expect(openSongNow()).toBe(before);

    toolbox.runOffered(name);
    const preview = openSongNow();
    toolbox.keepTool();
    expect(openSongNow()).toBe(preview);
    if (preview !== before) {
      undo();
      expect(openSongNow()).toEqual(before);
      redo();
      expect(openSongNow()).toEqual(preview);
    }
  });
});

describe('what the commands of a menu leave alone', () => {
  const of = (menu: Menu) => OFFERED.filter((name) => COMMANDS[name].offer?.menu === menu);
  const run = (name: (typeof OFFERED)[number]) => {
    chooseRow('snare');
    const before = shown();
    toolbox.runOffered(name);
    return [before, shown()] as const;
  };

  test.each(of('velocity'))('%s changes no time', (name) => {
    const [before, after] = run(name);
    for (const [was, is] of kept(before, after, ({ at, push }) => [at, push]))
      expect(is).toEqual(was);
  });

  test.each(of('voice'))('%s changes neither time nor velocity', (name) => {
    const [before, after] = run(name);
    const touched = kept(before, after, ({ at, push, velocity }) => [at, push, velocity]);
    for (const [was, is] of touched) expect(is).toEqual(was);
  });

  test.each(of('time'))('%s leaves other rows alone', (name) => {
    const [before, after] = run(name);
    for (const strand of before.strands.filter(({ piece }) => piece !== 'snare')) {
      expect(after.strands.find(({ piece }) => piece === strand.piece)?.hits).toEqual(strand.hits);
    }
  });
});

describe('an open panel', () => {
  test('needs a selection where its command works on hits', () => {
    toolbox.runOffered('humanize');
    expect(open()).toBeUndefined();
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/Nothing is selected/);
  });

  test('starts each value from how the pattern was, not from the preview before', () => {
    chooseRow('snare');
    toolbox.runOffered('humanize');
    const first = shown();
    toolbox.setToolValue('seed', 7);
    expect(shown()).not.toEqual(first);
    toolbox.setToolValue('seed', 1);
    expect(shown()).toEqual(first);
  });

  test('rolls again: the same hits otherwise, and the selection stays', () => {
    chooseRow('snare');
    const ids = shape.chosenIds();
    toolbox.runOffered('humanize');
    const first = shown();
    toolbox.rollAgain();
    expect(shown()).not.toEqual(first);
    toolbox.keepTool();
    expect([...useWorkbench.getState().selection].sort()).toEqual([...ids].sort());
  });

  test('says beside its field which value cannot be, and shows nothing of it', () => {
    chooseRow('snare');
    toolbox.runOffered('accent steps');
    const before = shown();
    toolbox.setToolValue('steps', 'two and a half');
    expect(toolbox.toolShown(open()!)!.problems.steps).toMatch(/^must be /);
    expect(shown().strands).toEqual(song.patterns.find(({ id }) => id === chorus.id)!.strands);
    toolbox.setToolValue('steps', 'x.x.x.x.');
    expect(toolbox.toolShown(open()!)!.problems).toEqual({});
    expect(shown()).not.toEqual(before);
  });

  test('that chooses changes the selection and nothing else', () => {
    const before = openSongNow();
    toolbox.runOffered('select by description');
    expect(openSongNow()).toBe(before);
    toolbox.setToolValue('piece', 'kick');
    const kick = shown()
      .strands.find(({ piece }) => piece === 'kick')!
      .hits.map(({ id }) => id);
    expect([...useWorkbench.getState().selection].sort()).toEqual([...kick].sort());
    toolbox.keepTool();
    expect(openSongNow()).toBe(before);
  });

  test('that chooses leaves what was selected when it is taken back, and can add to it', () => {
    const [{ hits }] = shown().strands.filter(({ piece }) => piece === 'snare');
    const selected = () => new Set(useWorkbench.getState().selection);
    useWorkbench.setState({ selection: [hits[0].id] });
    toolbox.runOffered('select by description');
    toolbox.setToolValue('piece', 'kick');
    expect(selected().has(hits[0].id)).toBe(false);
    toolbox.setToolValue('how', 'besides');
    expect(selected().has(hits[0].id)).toBe(true);
    expect(selected().size).toBeGreaterThan(1);
    toolbox.dropTool();
    expect([...selected()]).toEqual([hits[0].id]);
  });
});

describe('a command with given values', () => {
  const row = (piece: string) => shown().strands.find((strand) => strand.piece === piece)!.hits;
  const others = () => shown().strands.filter(({ piece }) => piece !== 'snare');

  test('works on the row of the cursor where nothing is selected, in one step, and on no other row', () => {
    const before = others();
    toolbox.runWith('cycle', { of: 2, on: [1] });
    expect(row('snare').map(({ cycle }) => cycle)).toEqual(
      row('snare').map(() => ({ of: 2, on: [1] })),
    );
    expect(others()).toEqual(before);
    toolbox.runWith('cycle', { of: 1, on: [1] });
    expect(row('snare').every(({ cycle }) => cycle === undefined)).toBe(true);
    toolbox.runWith('quantize', {});
    expect(row('snare').every(({ push }) => push === 0)).toBe(true);
    undo();
    expect(row('snare')).toEqual(chorus.strands.find(({ piece }) => piece === 'snare')!.hits);
    expect(others()).toEqual(before);
  });

  test('works on the selection where there is one', () => {
    const [first, ...rest] = row('kick');
    shape.select([first.id]);
    toolbox.runWith('cycle', { of: 3, on: [1] });
    expect(row('kick')[0].cycle).toEqual({ of: 3, on: [1] });
    expect(row('kick').slice(1)).toEqual(rest);
  });

  test('leaves a locked pattern as it is', () => {
    const patterns = song.patterns.map((pattern) =>
      pattern.id === chorus.id ? { ...pattern, locked: true as const } : pattern,
    );
    openBench({ ...song, patterns }, { patternId: chorus.id, cursor: { piece: 'snare', at: 0 } });
    const before = openSongNow();
    toolbox.runWith('quantize', {});
    toolbox.runWith('cycle', { of: 2, on: [1] });
    expect(openSongNow()).toBe(before);
  });
});
