import { checkSong, type Hit, type Pattern } from '@/core';
import { demoSongs } from '@/demo';
import { ACTIONS } from '../acts';
import { redo, undo } from '../session/edit';
import { MENU } from '../acts/menus';
import * as shape from './shape';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as toolbox from './toolbox';
import { findTool, TOOLS, type Field, type Tool } from '../tools';

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
const names = (tools: readonly Tool[]) => tools.map((tool) => [tool.id, tool] as const);

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
      const { value, min, max, step = 1 } = field;
      return Math.min(max, value + step * 3) === value
        ? Math.max(min, value - step * 3)
        : Math.min(max, value + step * 3);
    }
    case 'choice':
      return field.options.at(-1)?.[0] ?? field.value;
    case 'seed':
      return field.value + 1;
    default:
      return undefined;
  }
}

describe.each(names(TOOLS))('the tool “%s”', (id, tool) => {
  const withSelection = () => shape.selectRow('snare');

  test('opens with values it would take itself', () => {
    withSelection();
    const bench = toolbox.benchNow(shape.chosenIds())!;
    for (const field of tool.fields(bench)) {
      if (field.kind === 'number') {
        expect([field.id, field.value >= field.min && field.value <= field.max]).toEqual([
          field.id,
          true,
        ]);
      } else if (field.kind === 'choice' && field.options.length > 0) {
        expect(field.options.map(([value]) => value)).toContain(field.value);
      } else if (field.kind === 'text') expect(field.value).toMatch(field.fits);
    }
  });

  test('leaves a sound song at any value; dropped nothing has changed, kept it is one step', () => {
    withSelection();
    const before = openSongNow();
    toolbox.openTool(id);
    expect(open()?.id).toBe(id);
    expect(checkSong(openSongNow())).toEqual([]);
    for (const field of tool.fields(toolbox.benchNow(open()!.ids)!)) {
      const value = otherValue(field);
      if (value === undefined) continue;
      toolbox.setToolValue(field.id, value);
      expect(checkSong(openSongNow())).toEqual([]);
    }
    toolbox.dropTool();
    expect(openSongNow()).toBe(before);

    toolbox.openTool(id);
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

describe('what a group of tools leaves alone', () => {
  const of = (group: Tool['group']) =>
    names(TOOLS.filter((tool) => tool.group === group && !tool.select));
  const run = (id: string) => {
    shape.selectRow('snare');
    const before = shown();
    toolbox.openTool(id);
    return [before, shown()] as const;
  };

  test.each(of('velocity'))('%s changes no time', (id) => {
    const [before, after] = run(id);
    for (const [was, is] of kept(before, after, ({ at, push }) => [at, push]))
      expect(is).toEqual(was);
  });

  test.each(of('voice'))('%s changes neither time nor velocity', (id) => {
    const [before, after] = run(id);
    const touched = kept(before, after, ({ at, push, velocity }) => [at, push, velocity]);
    for (const [was, is] of touched) expect(is).toEqual(was);
  });

  test.each(of('time'))('%s leaves other rows alone', (id) => {
    const [before, after] = run(id);
    for (const strand of before.strands.filter(({ piece }) => piece !== 'snare')) {
      expect(after.strands.find(({ piece }) => piece === strand.piece)?.hits).toEqual(strand.hits);
    }
  });
});

describe('an open tool', () => {
  test('asks for a selection when it needs one', () => {
    toolbox.openTool('humanize');
    expect(open()).toBeUndefined();
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/Nothing is selected/);
  });

  test('starts each value from how the pattern was, not from the preview before', () => {
    shape.selectRow('snare');
    toolbox.openTool('humanize');
    const first = shown();
    toolbox.setToolValue('seed', 7);
    expect(shown()).not.toEqual(first);
    toolbox.setToolValue('seed', 1);
    expect(shown()).toEqual(first);
  });

  test('rolls again: the same hits otherwise, and the selection stays', () => {
    shape.selectRow('snare');
    const ids = shape.chosenIds();
    toolbox.openTool('humanize');
    const first = shown();
    toolbox.rollAgain();
    expect(shown()).not.toEqual(first);
    toolbox.keepTool();
    expect([...useWorkbench.getState().selection].sort()).toEqual([...ids].sort());
  });

  test('that selects changes the selection and nothing else', () => {
    const before = openSongNow();
    const tool = TOOLS.find(({ select }) => select)!;
    toolbox.openTool(tool.id);
    expect(openSongNow()).toBe(before);
    toolbox.keepTool();
    expect(openSongNow()).toBe(before);
  });
});

test('every line of a menu has a letter of its own, and every key does one thing on a stage', () => {
  const letters = MENU.map(({ group, letter }) => `${group} ${letter}`);
  expect(new Set(letters).size).toBe(letters.length);
  for (const stage of ['gather', 'shape', 'weave', 'deliver'] as const) {
    const keys = ACTIONS.filter((action) => !action.stage || action.stage === stage).flatMap(
      (action) => action.keys ?? [],
    );
    expect([stage, keys.filter((key, i) => keys.indexOf(key) !== i)]).toEqual([stage, []]);
  }
});

test('a tool that is not there is not found', () => {
  expect(findTool('none')).toBeUndefined();
  toolbox.openTool('none');
  expect(open()).toBeUndefined();
});
