import { checkSong, type StripSetting } from '@/core/model';
import { layoutOf } from '@/core/model';
import {
  decibelsOf,
  drumsOf,
  hitsPerTrack,
  mixOf,
  OFF,
  sectionStripOf,
  stripOf,
} from '@/core/tracks';
import { laidPlaces } from '@/core/weave';
import { demoSongs } from '@/demo';
import { undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import { heardSong } from '../transport/transport';
import * as balance from './balance';
import * as chain from './chain';
import { isRowSilent, markHere, trackHere } from './here';
import { liftHere, ownTracksHere } from './lifting';
import { ALL_DRUMS } from './slice';

jest.mock('@/storage/songs');
jest.mock('@/workers');

const [demo] = demoSongs();
const bench = () => useWorkbench.getState();
const strip = (track: string): StripSetting => stripOf(openSongNow(), track);
const said = () => bench().notices.at(-1)?.message;
const decibels = (track: string) => Math.round(decibelsOf(strip(track).level) * 10) / 10;

beforeEach(() => openBench(demo, { stage: 'balance', trackId: 'snare', hear: 'song' }));
afterEach(() => expect(checkSong(openSongNow())).toEqual([]));

describe('the tracks', () => {
  test('that are listed are those that something is on, until all are wanted', () => {
    const listed = balance.shownTracks(bench());
    const hits = hitsPerTrack(demo);
    for (const { id } of listed) expect(hits.get(id)).toBeGreaterThan(0);
    balance.toggleAllTracks();
    expect(balance.shownTracks(bench())).toEqual(layoutOf(demo).tracks);
  });

  test('are gone through with the keys, all drums last', () => {
    const ids = balance.shownTracks(bench()).map(({ id }) => id);
    balance.chooseTrack(ids[0]);
    for (const id of [...ids.slice(1), ALL_DRUMS, ALL_DRUMS]) {
      balance.stepTrack(1);
      expect(bench().trackId).toBe(id);
    }
    expect(balance.chosenTrack(bench())).toBeUndefined();
    balance.onChosen(() => fail('all drums are no track'));
    expect(said()).toMatch(/choose a track first/);
  });

  test('are joined with the one above and taken apart again, under one layout of their own', () => {
    const total = () => [...hitsPerTrack(openSongNow()).values()].reduce((a, b) => a + b, 0);
    const before = total();
    balance.joinWithAbove();
    const { name } = layoutOf(openSongNow());
    expect(name).toBe('by hand');
    balance.takeApart();
    expect(total()).toBe(before);
    balance.renameLayout('shed');
    expect(layoutOf(openSongNow()).name).toBe('shed');
    balance.removeLayout();
    expect(openSongNow().layouts.some((one) => one.name === 'shed')).toBe(false);
  });

  test('move past the next one that is listed', () => {
    const order = () => balance.shownTracks(bench()).map(({ id }) => id);
    const at = order().indexOf('snare');
    balance.moveTrack(-1);
    expect(order().indexOf('snare')).toBe(at - 1);
    balance.moveTrack(1);
    expect(order().indexOf('snare')).toBe(at);
  });
});

describe('a strip', () => {
  test('is set in steps that stay within what it can be', () => {
    for (let i = 0; i < 3; i++) balance.stepLevel(-1);
    expect(decibels('snare')).toBe(-3);
    for (let i = 0; i < 200; i++) balance.stepLevel(-1);
    expect(decibels('snare')).toBe(OFF);
    for (let i = 0; i < 30; i++) balance.stepPan(0.1);
    expect(strip('snare').pan).toBe(1);
    for (let i = 0; i < 12; i++) balance.stepSend('room', 0.1);
    expect(strip('snare').sends).toEqual([{ bus: 'room', level: 1 }]);
    balance.resetTrack();
    expect(strip('snare')).toEqual({ track: 'snare', level: 1, pan: 0, sends: [] });
  });

  test('is one step of undo for one gesture', () => {
    balance.slideLevel('snare', -2);
    balance.slideLevel('snare', -9);
    balance.slideDone();
    expect(decibels('snare')).toBe(-9);
    undo();
    expect(openSongNow()).toBe(demo);
  });

  test('is copied onto another, but for what mutes it', () => {
    balance.stepLevel(-6);
    balance.toggleMark('mute');
    balance.copyStrip();
    balance.chooseTrack('kick');
    balance.pasteStrip();
    expect(decibels('kick')).toBe(-6);
    expect(strip('kick').mute).toBeUndefined();
  });

  test('goes out on a pair of its own, and says where the device has none', () => {
    balance.nextOutput();
    expect(strip('snare').output).toBe(2);
    expect(said()).toMatch(/one pair of outputs/);
    for (let i = 0; i < 7; i++) balance.nextOutput();
    expect(strip('snare').output).toBeUndefined();
  });

  test('is otherwise in the section where the song stands, and as everywhere again', () => {
    const [{ section }] = laidPlaces(demo);
    balance.stepInSection(-3);
    expect(decibelsOf(sectionStripOf(openSongNow(), section.id, 'snare')!.level!)).toBeCloseTo(-3);
    balance.muteInSection();
    expect(sectionStripOf(openSongNow(), section.id, 'snare')?.mute).toBe(true);
    balance.asEverywhere(section.id, 'snare');
    expect(sectionStripOf(openSongNow(), section.id, 'snare')).toBeUndefined();
  });

  test('is otherwise where a pattern is played that is heard by itself, wherever its playhead is', () => {
    const laid = laidPlaces(demo);
    const { section, place } = laid.at(-1)!;
    const { pattern } = section.spans[0];
    expect(
      laid.find(({ section: one }) => one.spans.some((span) => span.pattern === pattern))?.place,
    ).toBe(place);
    useWorkbench.setState({ hear: 'pattern', patternId: pattern, opened: undefined });
    balance.muteInSection();
    const muted = openSongNow().sections.filter(({ mix }) => mix?.strips.some(({ mute }) => mute));
    expect(muted.map(({ id }) => id)).toEqual([section.id]);
  });
});

describe('what is heard', () => {
  test('is the mix as it was while the two are compared', () => {
    balance.noteMix();
    balance.compareMix();
    expect(said()).toMatch(/nothing to compare/);
    balance.stepLevel(-6);
    const now = mixOf(openSongNow());
    expect(mixOf(heardSong(bench())!)).toBe(now);
    balance.compareMix();
    expect(mixOf(heardSong(bench())!)).toEqual(mixOf(demo));
    balance.compareMix();
    expect(mixOf(heardSong(bench())!)).toBe(now);
  });

  test('alone is in its place, or dry; the song keeps nothing of that', () => {
    balance.stepSend('room', 0.5);
    balance.toggleMark('solo');
    const kept = openSongNow();
    expect(heardSong(bench())).toBe(kept);
    balance.toggleSoloDry();
    const dry = heardSong(bench())!;
    expect(stripOf(dry, 'snare')).toMatchObject({ sends: [], dry: 1 });
    expect(openSongNow()).toBe(kept);
    balance.toggleSoloDry();
    expect(heardSong(bench())).toBe(kept);
    balance.hearAll();
    expect(mixOf(openSongNow()).strips.some(({ solo }) => solo)).toBe(false);
  });

  test('all drums go through is set apart from any track', () => {
    balance.chooseDrums();
    const before = drumsOf(openSongNow()).ceiling;
    chain.stepCeiling(-0.5);
    expect(drumsOf(openSongNow()).ceiling).toBe(before - 0.5);
  });
});

describe('from Shape and Weave', () => {
  test('the track of the row is muted and heard alone, and one key lets all be heard', () => {
    useWorkbench.setState({ stage: 'shape', cursor: { piece: 'kick', at: 0 } });
    expect(trackHere()?.id).toBe('kick');
    markHere('mute');
    expect(isRowSilent(openSongNow(), 'kick')).toBe(true);
    useWorkbench.setState({ stage: 'weave', row: 'ride' });
    markHere('solo');
    expect(said()).toBe('Ride: alone.');
    expect(isRowSilent(openSongNow(), 'snare')).toBe(true);
    balance.hearAll();
    expect(isRowSilent(openSongNow(), 'kick')).toBe(false);
    useWorkbench.setState({ row: undefined });
    markHere('mute');
    expect(said()).toMatch(/Choose a row first/);
  });

  test('a track is lifted out of the pattern, or out of the chosen bars', () => {
    const [verse] = demo.patterns;
    useWorkbench.setState({
      stage: 'shape',
      patternId: verse.id,
      cursor: { piece: 'kick', at: 0 },
    });
    liftHere(false);
    expect(said()).toBe(`“${verse.name}, Kick” is on the shelf.`);
    useWorkbench.setState({ stage: 'weave', row: 'kick', bars: { from: 3840, to: 7680 } });
    liftHere(false);
    expect(openSongNow().patterns.at(-1)).toMatchObject({ length: 3840 });
    expect(openSongNow().patterns).toHaveLength(demo.patterns.length + 2);
  });

  test('tracks get patterns of their own, which say how many they are', () => {
    const [verse] = demo.patterns;
    useWorkbench.setState({ stage: 'shape', patternId: verse.id });
    ownTracksHere();
    expect(said()).toMatch(/^\d patterns on the shelf play what/);
    undo();
    balance.chooseLayout('one');
    ownTracksHere();
    expect(said()).toMatch(/is on one track/);
  });
});
